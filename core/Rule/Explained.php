<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Raised;
use Olivine\Core\Formula\Operator;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * When alerts of other rules explain those of a rule. An alert explains another that has the same value in each label both
 * have: "broker down" of `{broker="north"}` explains the queues of that broker, and no others; one that shares no label
 * explains them all.
 */
final readonly class Explained
{
    /** @param array<string, list<Line>> $alerts rule → its alerts, at each instant 1 or 0 */
    private function __construct(private array $alerts)
    {
    }

    /**
     * @throws FormulaError  where it cannot be worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public static function read(Rule $rule, Evaluator $evaluator, Instant $first, Instant $last): self
    {
        $alerts = [];
        foreach ($rule->dependsOn as $other) {
            $lines = $evaluator->range(new Raised(new Place(0, 0), $other), $first->ms, $last->ms, $rule->step->ms)->lines;
            $alerts[$other] = array_values(
                array_filter($lines, static fn(Line $line): bool => in_array(1.0, $line->values, true)),
            );
        }

        return new self($alerts);
    }

    /** @return string|null in words, by what; null where it speaks for itself */
    public function by(LabelSet $labels, int $i): ?string
    {
        foreach ($this->alerts as $rule => $lines) {
            foreach ($lines as $line) {
                $value = $line->values[$i];
                if ($value !== null && Operator::holds($value) && self::concerns($line->labels, $labels)) {
                    return "held while {$rule} is raised";
                }
            }
        }

        return null;
    }

    private static function concerns(LabelSet $of, LabelSet $labels): bool
    {
        $shared = array_intersect_key($of->labels, $labels->labels);

        return array_intersect_assoc($shared, $labels->labels) === $shared;
    }
}

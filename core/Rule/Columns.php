<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** What a rule judges by over some instants: of each label set a column of values for each input of its condition. */
final readonly class Columns
{
    /**
     * @param array<string, LabelSet> $labels  of the watched formula, by their key
     * @param array<string, Track>    $tracks  by the key of the labels
     * @param Track                   $nothing what there is of labels that are not seen
     */
    private function __construct(
        private array $labels,
        private array $tracks,
        private Track $nothing,
        public Explained $explained,
        public Rests $rests,
        public Instant $first,
        public Instant $last,
        public int $count,
    ) {
    }

    /**
     * @param Node                                  $watched  by the rule, but for what is known
     * @param array<string, array{LabelSet, float}> $standing what is known: labels, and a value that stands for all of its values
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where a single instant would take too much
     */
    public static function read(
        Rule $rule,
        Node $watched,
        array $standing,
        Evaluator $evaluator,
        Rests $rests,
        Instant $first,
        Instant $last,
    ): self {
        $labels = [];
        $tracks = [];
        $count = $last->since($first)->steps($rule->step) + 1;
        $inputs = $rule->condition->inputs($rule->watched);
        $nothing = array_fill(0, count($inputs), array_fill(0, $count, null));
        $nothingElse = array_slice($nothing, 1);
        $columns = [];
        // What the others look back at lies for the most part within what is watched, which is at hand then.
        $lines = $evaluator->range($watched, $first->ms, $last->ms, $rule->step->ms)->lines;
        foreach (array_slice($inputs, 1, null, true) as $i => $input) {
            foreach ($evaluator->range($input, $first->ms, $last->ms, $rule->step->ms)->lines as $line) {
                $columns[$line->labels->key()][$i] = $line->values;
            }
        }
        foreach ($standing as $key => [$known, $value]) {
            $labels[$key] = $known;
            $tracks[$key] = Track::of($value, $count);
        }
        foreach ($lines as $line) {
            $key = $line->labels->key();
            $labels[$key] = $line->labels;
            // Most conditions look at nothing else.
            $tracks[$key] = new Track(
                isset($columns[$key]) ? array_values(array_replace($nothing, [$line->values], $columns[$key])) : [$line->values, ...$nothingElse],
            );
        }
        // What is known of labels that are not seen themselves.
        foreach (array_diff_key($columns, $tracks) as $key => $ofOne) {
            $tracks[$key] = new Track(array_values(array_replace($nothing, $ofOne)));
        }
        $explained = Explained::read($rule, $evaluator, $first, $last);

        return new self($labels, $tracks, new Track($nothing), $explained, new RestsAtHand($rests), $first, $last, $count);
    }

    /**
     * @param Rule                        $rule   one that judges by the same inputs
     * @param array<string, TrackedAlert> $alerts that are there already, also where nothing is seen of them any more
     *
     * @return iterable<string, array{LabelSet, Looks}> by the key of the labels of the alert
     */
    public function looks(Rule $rule, array $alerts): iterable
    {
        if ($rule->together !== null) {
            yield from $this->ofGroups($rule, $rule->together, $alerts);

            return;
        }
        foreach ($this->labels as $key => $labels) {
            yield $key => [$labels, $this->one($rule, $key, $labels)];
        }
        foreach (array_diff_key($alerts, $this->labels) as $key => $alert) {
            yield $key => [$alert->labels, $this->one($rule, $key, $alert->labels)];
        }
    }

    /**
     * @param array<string, TrackedAlert> $alerts
     *
     * @return iterable<string, array{LabelSet, Looks}>
     */
    private function ofGroups(Rule $rule, Together $together, array $alerts): iterable
    {
        $known = array_map(static fn(TrackedAlert $alert): LabelSet => $alert->labels, $alerts);
        $groups = [];
        $members = [];
        foreach ($this->labels as $key => $labels) {
            $group = $together->group($labels);
            $groups[$group->key()] = $group;
            $members[$group->key()][self::member($labels, $group)] = $this->one($rule, $key, $labels);
        }
        foreach ($groups + $known as $key => $group) {
            yield $key => [$group, new LooksAtGroup($together, $members[$key] ?? ['' => $this->one($rule, '', $group)])];
        }
    }

    private function one(Rule $rule, string $key, LabelSet $labels): LooksAtOne
    {
        return new LooksAtOne($rule->conditionOf($labels), $this->tracks[$key] ?? $this->nothing);
    }

    /** What tells one from the others of its group: `gate-3`, or `broker-north boarding`. */
    private static function member(LabelSet $labels, LabelSet $group): string
    {
        return implode(' ', array_diff_key($labels->labels, $group->labels));
    }
}

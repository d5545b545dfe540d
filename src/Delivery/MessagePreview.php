<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\PreviewedMessage;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Memory;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Verdict;
use Olivine\Core\Time\Instant;

/** The first message of a rule, of whatever is nearest to its limit now. */
final readonly class MessagePreview
{
    private const SECONDS = 5.0;

    public function __construct(
        private Evaluator $evaluator,
        private Checker $checker,
        private MessageText $text,
        private Settings $settings,
        private HeavyWork $heavy,
        private WhoHears $who,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     * @throws Problem       429 where too much is under way already
     */
    public function of(RuleDefinition $definition): PreviewedMessage
    {
        $rule = $definition->core();
        $unit = $this->checker->unitOf($rule->watched);
        $now = $this->clock->now();
        $line = $this->heavy->within(self::SECONDS, fn(): ?Line => $this->nearest($rule, $now));
        if ($line === null) {
            return new PreviewedMessage(null, null, false);
        }
        $by = new RaisedBy(0, $definition, $rule, $unit);
        $verdict = $this->verdict($rule, $line, $now);
        $severity = $verdict->severity ?? $by->conditionOf($line->labels)->severity();
        $onset = $now->minus($rule->holding->hold);
        $about = AlertEvents::about($definition, $line->labels, $severity);
        $path = $this->who->now()->answering($about, $onset);
        $incident = new Incident($path->name, $path->group($about), $by->raised($line->labels), $severity, $onset, false);
        $told = new ToldAlert(
            name: OneLine::of($by->name($line->labels)),
            severity: $severity->value,
            value: $by->value($line->values[0] ?? 0.0),
            beside: $by->conditionOf($line->labels)->reason($verdict->numbers, $unit),
            since: $onset->in($this->settings->zone())->format('H:i'),
            end: null,
            runbook: OneLine::of($definition->runbook),
            words: OneLine::of($definition->words[$severity->value] ?? ''),
        );

        return new PreviewedMessage(
            $this->text->subject($incident, MessageKind::Raised, [$told], $now),
            trim($this->text->body('txt', $incident, MessageKind::Raised, [$told], $now, null)),
            $verdict->isPast(),
        );
    }

    /**
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function nearest(Rule $rule, Instant $now): ?Line
    {
        $lines = $this->evaluator->seeing($rule->mustSee)->range($rule->watched, $now->ms, $now->ms, 1)->lines;
        $isBelow = $rule->condition instanceof Limited && $rule->condition->limits()->side === Side::Below;
        usort($lines, static fn(Line $a, Line $b): int => $isBelow ? $a->values[0] <=> $b->values[0] : $b->values[0] <=> $a->values[0]);

        return $lines[0] ?? null;
    }

    /**
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function verdict(Rule $rule, Line $line, Instant $now): Verdict
    {
        $condition = $rule->conditionOf($line->labels);
        $values = [];
        foreach ($condition->inputs($rule->watched) as $input) {
            $values[] = $this->evaluator->line($input, $line->labels, $now->ms, $now->ms, 1)?->values[0];
        }

        return $condition->judge(new Memory(), $now, $values);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Side;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * How bad it was over a spell: the mean of what the rule watches from onset to end, and the worst of it.
 *
 * Above 400 messages from 03:08 to 04:20: `mean 812 messages, highest 1,284 messages`; of a limit below, the lowest.
 */
final readonly class SpellFigures
{
    private const LOOKS = 240;
    /** A spell that lasts for months is told by its last days. */
    private const LONGEST_MS = 7 * 86_400_000;
    private const FINEST_MS = 15_000;

    public function __construct(private Evaluator $evaluator)
    {
    }

    /**
     * @param float|null $last what the message says of now, of a spell that goes on: a reading may arrive between the two looks, and
     *                         nothing may stand higher than the highest
     *
     * @return string "" where there is too little of it to say anything
     */
    public function words(RaisedBy $by, LabelSet $labels, Instant $onset, Instant $end, ?float $last = null): string
    {
        $step = max(self::FINEST_MS, intdiv(min(self::LONGEST_MS, $end->ms - $onset->ms), self::LOOKS));
        $to = $end->ms;
        $from = $to - intdiv($to - max($onset->ms, $to - self::LONGEST_MS), $step) * $step;
        if ($by->isOfGroup() || $to <= $from) {
            return '';
        }
        try {
            $values = $this->evaluator->line(Parser::parse($by->rule->formula), $labels, $from, $to, $step)?->values;
        } catch (FormulaError|TooMuchToRead) {
            // The message goes out without it.
            return '';
        }
        $seen = array_filter([...$values ?? [], $last], static fn(?float $value): bool => $value !== null && is_finite($value));
        if (count($seen) < 2) {
            return '';
        }
        $condition = $by->conditionOf($labels);
        $isBelow = $condition instanceof Threshold && $condition->limits->side === Side::Below;
        $worst = $isBelow ? 'lowest ' . $by->value(min($seen)) : 'highest ' . $by->value(max($seen));

        return 'mean ' . $by->value(array_sum($seen) / count($seen)) . ", {$worst}";
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\Side;
use Olivine\Core\Time\Instant;

/** The values of a setting that are worth trying. */
final readonly class SettingValues
{
    private const LOOKS = 400;
    private const LEAST_HOLD_SECONDS = 1_800;
    private const FARTHEST_SPREADS = 12.0;
    private const FARTHEST_SHARE = 3.0;
    private const STRICT_SHARE = 0.9;
    private const A_LITTLE_MORE = 1.05;

    public function __construct(private Evaluator $evaluator)
    {
    }

    /** @return list<float> seconds, rising */
    public static function holds(Rule $rule, int $count): array
    {
        $most = max(self::LEAST_HOLD_SECONDS, 3 * $rule->holding->hold->seconds());

        return array_map(static fn(int $i): float => round(($most * $i) / ($count - 1)), range(0, $count - 1));
    }

    /**
     * Limits that tell what stands out: from the present one, or nine tenths of the values, on.
     *
     * @return list<float> rising; none where it has no limit that could be moved
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function strictLimits(Rule $rule, int $count, Instant $after, Instant $through): array
    {
        $condition = $rule->condition;
        if (!$condition instanceof Threshold || $condition->limits->side->isRange()) {
            return $this->limits($rule, $count, $after, $through);
        }
        $values = $this->values($rule, $after, $through);
        $limit = $condition->limits->mildest->limit;
        if ($values === []) {
            return [];
        }
        [$low, $high] = $condition->limits->side === Side::Above
            ? [min($limit, Spread::quantile(self::STRICT_SHARE, $values)), max($limit, max($values) * self::A_LITTLE_MORE)]
            : [min($limit, min($values)), max($limit, Spread::quantile(1 - self::STRICT_SHARE, $values))];

        return self::between($low, $high, $count);
    }

    /**
     * @return list<float> rising; none where it has no limit that could be moved
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function limits(Rule $rule, int $count, Instant $after, Instant $through): array
    {
        if (!$rule->condition instanceof Limited || $rule->condition->limits()->side->isRange()) {
            return [];
        }
        [$low, $high] = $this->reach($rule, $rule->condition, $count, $after, $through);

        return self::between($low, $high, $count);
    }

    /**
     * Between which values a limit matters: those that were there, a little more, and where it is.
     *
     * @return array{float, float}
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function reach(Rule $rule, Limited $condition, int $count, Instant $after, Instant $through): array
    {
        $limit = $condition->limits()->mildest->limit;
        if (!$condition instanceof Threshold && !$condition instanceof Forecast) {
            $far = max(self::FARTHEST_SHARE * $limit, self::FARTHEST_SPREADS);

            return [$far / $count, $far];
        }
        $values = [$limit, ...$this->values($rule, $after, $through)];
        [$low, $high] = [min($values), max($values)];
        $margin = ($high - $low) * 0.05 ?: max(1.0, abs($limit) * 0.1);

        return [$low - $margin, $high + $margin];
    }

    /**
     * @return list<float> of all its series
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function values(Rule $rule, Instant $after, Instant $through): array
    {
        $step = max($rule->step->ms, intdiv($through->since($after)->ms, self::LOOKS));
        $values = [];
        foreach ($this->evaluator->range($rule->watched, $after->ms, $through->ms, $step)->lines as $line) {
            array_push($values, ...array_filter($line->values, static fn(?float $value): bool => $value !== null && is_finite($value)));
        }

        return $values;
    }

    /** @return list<float> rising */
    private static function between(float $low, float $high, int $count): array
    {
        return array_map(static fn(int $i): float => self::plain($low + (($high - $low) * $i) / ($count - 1)), range(0, $count - 1));
    }

    /** To three figures, as a person would write it. */
    private static function plain(float $value): float
    {
        return $value === 0.0 ? 0.0 : round($value, 2 - (int) floor(log10(abs($value))));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Change;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;

/** A condition as the fields that a person would have written. */
final readonly class FieldsOf
{
    private const SPAN_OF_TWINS_SECONDS = 1_209_600;
    private const WARM_UP_OF_TWINS_SECONDS = 86_400;

    public static function condition(Condition $condition): ConditionFields
    {
        return match (true) {
            $condition instanceof Threshold => self::threshold($condition),
            $condition instanceof Departure => self::departure($condition),
            $condition instanceof Forecast => new ForecastFields(
                $condition->limits->side,
                self::limits($condition->limits),
                $condition->limits->clear,
                $condition->within->seconds(),
            ),
            $condition instanceof Change => new ChangeFields(
                $condition->way,
                $condition->isShare ? Measure::Share : Measure::Amount,
                self::limits($condition->limits),
                $condition->limits->clear,
                $condition->ago->seconds(),
            ),
            default => new AbsenceFields($condition->severity()),
        };
    }

    private static function threshold(Threshold $condition): ThresholdFields
    {
        $limits = $condition->limits;

        return new ThresholdFields(
            $limits->side,
            self::limits($limits),
            $limits->clear,
            $limits->side->isRange() ? $limits->clearTo : null,
            $condition->counting?->need,
            $condition->counting?->of,
        );
    }

    private static function departure(Departure $condition): DepartureFields
    {
        $baseline = $condition->baseline;

        return new DepartureFields(
            self::usual($baseline),
            $condition->way,
            self::limits($condition->limits),
            $condition->limits->clear,
            $condition->least,
            $baseline->method === null ? self::SPAN_OF_TWINS_SECONDS : $baseline->span->seconds(),
            $baseline->method === null ? self::WARM_UP_OF_TWINS_SECONDS : $baseline->warmUp->seconds(),
            $baseline->per,
        );
    }

    private static function usual(Baseline $baseline): UsualOf
    {
        return match ($baseline->method) {
            null => UsualOf::Twins,
            BaselineMethod::Median => UsualOf::Median,
            BaselineMethod::Mean => UsualOf::Mean,
            BaselineMethod::Ewma => UsualOf::Ewma,
            BaselineMethod::SameHour => UsualOf::SameHour,
            BaselineMethod::SameWeekday => UsualOf::SameWeekday,
        };
    }

    /** @return list<LimitFields> */
    private static function limits(Limits $limits): array
    {
        return array_map(
            static fn(Level $level): LimitFields => new LimitFields(
                $level->severity,
                $level->limit,
                $limits->side->isRange() ? $level->to : null,
            ),
            $limits->levels,
        );
    }
}

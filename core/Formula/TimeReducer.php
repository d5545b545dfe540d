<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** What is made of the readings of one series inside a window `(t - d, t]`. */
enum TimeReducer: string
{
    case Mean = 'mean';
    case Min = 'min';
    case Max = 'max';
    case Sum = 'sum';
    case Count = 'count';
    case First = 'first';
    case Last = 'last';
    case Range = 'range';
    case Stddev = 'stddev';
    case Median = 'median';
    case Quantile = 'quantile';
    case Mad = 'mad';
    case Slope = 'slope';
    case Forecast = 'forecast';
    case Change = 'change';
    case Growth = 'growth';
    case Rate = 'rate';

    /** Whether what it tells lies between the lowest and the highest reading of the window. */
    public function liesWithin(): bool
    {
        return in_array($this, [self::Mean, self::Min, self::Max, self::First, self::Last, self::Median, self::Quantile], true);
    }

    /** Whether it speaks for the window as a whole: half of that could mislead. */
    public function needsTheWhole(): bool
    {
        return !in_array($this, [self::Count, self::First, self::Last], true);
    }

    /** Whether the readings are those of a counter, whose falls are restarts. */
    public function countsGrowth(): bool
    {
        return $this === self::Growth || $this === self::Rate;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** What is made of the values of many series at one instant. */
enum SetReducer: string
{
    case Sum = 'sum';
    case Mean = 'mean';
    case Min = 'min';
    case Max = 'max';
    case Count = 'count';
    case Median = 'median';
    case Stddev = 'stddev';
    case Quantile = 'quantile';

    /**
     * @param non-empty-list<float> $values    none of them NaN
     * @param float|null            $parameter the share of a quantile
     */
    public function reduce(array $values, ?float $parameter = null): float
    {
        return match ($this) {
            self::Sum => array_sum($values),
            self::Mean => Spread::mean($values),
            self::Min => min($values),
            self::Max => max($values),
            self::Count => (float) count($values),
            self::Median => Spread::median($values),
            self::Stddev => Spread::stddev($values),
            self::Quantile => Spread::quantile($parameter ?? 0.5, $values),
        };
    }
}

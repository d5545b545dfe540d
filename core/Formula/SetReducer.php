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

    /** @param non-empty-list<float> $values none of them NaN */
    public function reduce(array $values): float
    {
        switch ($this) {
            case self::Sum:
                return array_sum($values);
            case self::Mean:
                return array_sum($values) / count($values);
            case self::Min:
                return min($values);
            case self::Max:
                return max($values);
            case self::Count:
                return (float) count($values);
            case self::Median:
                sort($values);
                $middle = intdiv(count($values), 2);

                return count($values) % 2 === 1 ? $values[$middle] : ($values[$middle - 1] + $values[$middle]) / 2;
        }
    }
}

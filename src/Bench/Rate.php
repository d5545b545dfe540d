<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

/** How fast some work goes. */
final class Rate
{
    private const ROUNDS = 9;

    /**
     * @param callable(): int $work returns how many it did
     *
     * @return float the median rate of some rounds, a second
     */
    public static function of(callable $work): float
    {
        $rates = [];
        $work();
        for ($i = 0; $i < self::ROUNDS; ++$i) {
            $from = hrtime(true);
            $done = $work();
            $rates[] = $done / ((hrtime(true) - $from) / 1e9);
        }
        sort($rates);

        return $rates[intdiv(count($rates), 2)];
    }

    /**
     * @param callable(): mixed $work
     *
     * @return float the median of some rounds, milliseconds
     */
    public static function milliseconds(callable $work): float
    {
        return self::sideBySide($work, static fn(): null => null)[0];
    }

    /**
     * Turn by turn, so that a machine that is slow for a while is so for both.
     *
     * @param callable(): mixed $work
     * @param callable(): mixed $baseline
     *
     * @return array{float, float, float} the medians of some rounds, milliseconds, and the median of how many times longer the baseline took
     */
    public static function sideBySide(callable $work, callable $baseline): array
    {
        $work();
        $baseline();
        $times = [];
        for ($i = 0; $i < self::ROUNDS; ++$i) {
            $from = hrtime(true);
            $work();
            $between = hrtime(true);
            $baseline();
            $to = hrtime(true);
            $times[] = [($between - $from) / 1e6, ($to - $between) / 1e6, ($to - $between) / max(1, $between - $from)];
        }
        $middle = static function (int $column) use ($times): float {
            $numbers = array_column($times, $column);
            sort($numbers);

            return (float) $numbers[intdiv(count($numbers), 2)];
        };

        return [$middle(0), $middle(1), $middle(2)];
    }
}

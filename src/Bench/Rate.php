<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

/** How fast some work goes. */
final class Rate
{
    private const ROUNDS = 5;

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
        $times = [];
        $work();
        for ($i = 0; $i < self::ROUNDS; ++$i) {
            $from = hrtime(true);
            $work();
            $times[] = (hrtime(true) - $from) / 1e6;
        }
        sort($times);

        return $times[intdiv(count($times), 2)];
    }
}

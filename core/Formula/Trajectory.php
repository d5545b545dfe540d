<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** A straight line through time and, where there is one, the shape of the day on top of it. */
final readonly class Trajectory
{
    public const HALF_HOUR_MS = 1_800_000;
    private const DAY_MS = 86_400_000;

    /**
     * @param float             $level of the line at its origin
     * @param float             $slope of the line, a second
     * @param array<int, float> $shape half hour of the day → how far above the line; empty: the line alone
     */
    public function __construct(
        private int $originMs,
        private float $level,
        private float $slope,
        private WallClock $clock,
        private array $shape = [],
    ) {
    }

    public function onLine(int $at): float
    {
        return $this->level + ($this->slope * ($at - $this->originMs)) / 1000;
    }

    /** @param array<int, float> $shape */
    public function withShape(array $shape): self
    {
        return new self($this->originMs, $this->level, $this->slope, $this->clock, $shape);
    }

    /**
     * @param list<int> $instants rising
     *
     * @return list<float>
     */
    public function at(array $instants): array
    {
        if ($instants === []) {
            return [];
        }
        $values = array_map($this->onLine(...), $instants);
        if ($this->shape === []) {
            return $values;
        }
        foreach ($this->clock->shown($instants) as $i => $shown) {
            $values[$i] += $this->shape[self::halfHour($shown)] ?? 0.0;
        }

        return array_values($values);
    }

    /** @return int of a clock's time, 0 to 47 */
    public static function halfHour(int $shownMs): int
    {
        return intdiv((($shownMs % self::DAY_MS) + self::DAY_MS) % self::DAY_MS, self::HALF_HOUR_MS);
    }
}

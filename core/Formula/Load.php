<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/**
 * What it would take to work a formula out.
 *
 * By example, `median(x, 1d)` of 50 series read each minute, at 700 instants over a week: 50 × 8 d of readings are
 * 576,000; at each instant 50 × 1,440 of them are sorted, which at 30 steps each makes 1,512 M steps, about five seconds.
 */
final readonly class Load
{
    private const HEAVY_READINGS = 1_500_000;
    private const HEAVY_STEPS = 2e8;
    private const DAY_MS = 86_400_000;

    /**
     * @param float $readings that come out of the source
     * @param float $values   held at once, at most, of all parts
     * @param float $steps    of work; one takes about three nanoseconds
     * @param int   $series   that come out of it, at most
     */
    public function __construct(public float $readings, public float $values, public float $steps, public int $series)
    {
    }

    /** Whether it takes longer than whoever looks at a page should wait beside others. */
    public function isHeavy(): bool
    {
        return $this->readings > self::HEAVY_READINGS || $this->steps > self::HEAVY_STEPS;
    }

    public static function nothing(): self
    {
        return new self(0.0, 0.0, 0.0, 0);
    }

    public function and(self $other): self
    {
        return new self(
            $this->readings + $other->readings,
            $this->values + $other->values,
            $this->steps + $other->steps,
            max($this->series, $other->series),
        );
    }

    /** Of a long span no more is held at once than a day of it. */
    public function aDayAtATime(int $spanMs): self
    {
        $share = min(1.0, 2 * self::DAY_MS / max(1, $spanMs));

        return new self($this->readings * $share, $this->values * $share, $this->steps, $this->series);
    }

    /** One part more, on top of those below it, that yields a value for each series and instant. */
    public function then(int $instants, float $stepsAValue): self
    {
        $values = (float) max(1, $this->series) * $instants;

        return new self($this->readings, $this->values + $values, $this->steps + $values * $stepsAValue, $this->series);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\PartName;

/**
 * How far the collectors have come, slot by slot of their targets. Whoever reads from several waits for the slowest:
 * with slot 3 settled through 10:00:04 and slot 7 through 10:00:09, a formula over targets of both looks at 10:00:04.
 */
final readonly class Settled
{
    /** @var non-empty-list<int> slot → through which instant */
    private array $through;

    /**
     * @param int                      $byClockMs where nobody collects, the clock decides: no slot stays behind this
     * @param non-empty-list<int|null> $through   slot → through which instant all is there; null: nobody said so yet
     * @param array<int, int>          $later     target whose readings carry times of their own → through which instant they have come, as they use to
     */
    public function __construct(private int $byClockMs, array $through, private array $later)
    {
        $this->through = array_map(static fn(?int $ms): int => max($byClockMs, $ms ?? $byClockMs), $through);
    }

    /** Whether all targets have come equally far. */
    public function isEven(): bool
    {
        return $this->later === [] && min($this->through) === max($this->through);
    }

    public function fastest(): int
    {
        return max($this->through);
    }

    public function slowest(): int
    {
        return min($this->through);
    }

    public function ofTarget(int $target): int
    {
        $through = $this->through[PartName::Collector->slotOf($target)];
        $isCollected = $through > $this->byClockMs;

        return $isCollected ? min($through, $this->later[$target] ?? $through) : $through;
    }
}

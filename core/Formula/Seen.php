<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Series\Window;

/**
 * How much of a window must have been seen of one series. Of one that is read every 15 s, four fifths of five minutes are 16
 * readings; of one that was seen first two minutes ago, four fifths of these: 6.
 */
final readonly class Seen
{
    private function __construct(private float $intervalMs, private int $bornMs)
    {
    }

    public static function of(int $staleMs, int $bornMs): self
    {
        return new self($staleMs / Window::STALE_INTERVALS, $bornMs);
    }

    /** Whether there could have been readings all through a window that begins then. */
    public function isBornBefore(int $startMs): bool
    {
        return $startMs >= $this->bornMs - $this->intervalMs;
    }

    /** @return int so many readings of a window all through which there could have been some */
    public function neededOf(int $windowMs, float $share): int
    {
        return (int) (($share * $windowMs) / $this->intervalMs);
    }

    /** @return int so many readings */
    public function needed(int $startMs, int $atMs, float $share): int
    {
        return (int) (($share * $this->wholeMs($startMs, $atMs)) / $this->intervalMs);
    }

    /** Whether readings from the one instant to the other span enough of a window, but for an interval at its ends. */
    public function isSpanEnough(int $fromMs, int $toMs, int $startMs, int $atMs, float $share): bool
    {
        return $toMs - $fromMs + $this->intervalMs >= $share * $this->wholeMs($startMs, $atMs);
    }

    /** What there could be at all: a series younger than its window had no readings before. */
    private function wholeMs(int $startMs, int $atMs): float
    {
        return max(0.0, $atMs - max((float) $startMs, $this->bornMs - $this->intervalMs));
    }
}

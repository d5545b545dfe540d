<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/**
 * Readings of one run over the past: what was read last of a selection is at hand for whoever asks for a part of it next. Nothing that
 * is read may change meanwhile.
 *
 * By example, a rule that watches how full a disk is and foresees when it will be full reads five days of it at once; what its
 * foresight looks at, day by day, lies within, and is not read again.
 */
final class ReadOnce implements HeldReadings
{
    /** Larger than this is not held. */
    private const MOST_READINGS = 1_000_000;

    /** @var \WeakMap<Select, array{int, int, list<Window>}> after, through and what was read between */
    private \WeakMap $read;

    public function __construct(private readonly ReadingSource $source)
    {
        $this->read = new \WeakMap();
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        [$after, $through, $windows] = $this->read[$what] ?? [PHP_INT_MAX, PHP_INT_MIN, []];
        if ($afterMs >= $after && $throughMs <= $through) {
            return self::within($windows, $afterMs, $throughMs);
        }
        if ($throughMs <= $through) {
            return $this->source->windows($what, $afterMs, $throughMs);
        }
        unset($this->read[$what]);
        $windows = $this->source->windows($what, $afterMs, $throughMs);
        if (array_sum(array_map(static fn(Window $window): int => count($window->times), $windows)) <= self::MOST_READINGS) {
            $this->read[$what] = [$afterMs, $throughMs, $windows];
        }

        return $windows;
    }

    public function forget(Select $what): void
    {
        unset($this->read[$what]);
        if ($this->source instanceof HeldReadings) {
            $this->source->forget($what);
        }
    }

    /**
     * @param list<Window> $windows
     *
     * @return list<Window>
     */
    private static function within(array $windows, int $afterMs, int $throughMs): array
    {
        $parts = array_map(static fn(Window $window): ?Window => $window->within($afterMs, $throughMs), $windows);

        return array_values(array_filter($parts, static fn(?Window $part): bool => $part !== null));
    }

    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
    {
        return $this->source->buckets($what, $tier, $detail, $afterMs, $throughMs);
    }

    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        return $this->source->remains($what, $tier, $afterMs, $throughMs);
    }

    public function alerts(string $rule, int $afterMs, int $throughMs): array
    {
        return $this->source->alerts($rule, $afterMs, $throughMs);
    }

    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
    {
        return $this->source->estimate($what, $afterMs, $throughMs);
    }

    public function longestStaleMs(Select $what): int
    {
        return $this->source->longestStaleMs($what);
    }
}

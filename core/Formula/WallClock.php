<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/**
 * What clocks on the wall of a zone show, as milliseconds since 1970 of that clock: two instants whose difference is a
 * whole number of days show the same time of day, also where clocks changed in between.
 *
 * By example in Lisbon, 24 October 2026 08:00 UTC shows 09:00, 26 October 2026 09:00 UTC shows 09:00 too: 49 hours
 * passed, and the clock went on by 48.
 */
final readonly class WallClock
{
    public function __construct(private \DateTimeZone $zone)
    {
    }

    /**
     * @param non-empty-list<int> $instants rising
     *
     * @return non-empty-list<int>
     */
    public function shown(array $instants): array
    {
        $changes = $this->changes($instants[0], $instants[count($instants) - 1]);
        $shown = [];
        $next = 0;
        $offset = 0;
        foreach ($instants as $instant) {
            while (isset($changes[$next]) && $changes[$next][0] <= $instant) {
                $offset = $changes[$next++][1];
            }
            $shown[] = $instant + $offset;
        }

        return $shown;
    }

    /** Whether clocks are not set in between: then what passed is what they show. */
    public function goesEvenly(int $fromMs, int $toMs): bool
    {
        return count($this->changes($fromMs, $toMs)) === 1;
    }

    /** @return list<array{int, int}> from which instant on clocks are how far ahead of UTC, the first at or before the span */
    private function changes(int $fromMs, int $toMs): array
    {
        $from = (int) floor($fromMs / 1000);
        $transitions = $this->zone->getTransitions($from, (int) ceil($toMs / 1000));
        if ($transitions === false || $transitions === []) {
            // A zone that is an offset from UTC never changes.
            return [[$fromMs, 1000 * $this->zone->getOffset(new \DateTimeImmutable("@{$from}"))]];
        }
        $changes = array_map(static fn(array $one): array => [1000 * $one['ts'], 1000 * $one['offset']], $transitions);
        $changes[0][0] = min($changes[0][0], $fromMs);

        return $changes;
    }
}

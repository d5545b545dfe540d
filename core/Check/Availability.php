<?php

declare(strict_types=1);

namespace Olivine\Core\Check;

/**
 * In how many minutes a service was there, seen from its places, and in how many of those it was slow.
 *
 * A place saw it in a minute where more than half of its askings in it found it running; one that is asked less often than that counts by
 * its last asking for three intervals. The service was there where enough of the places that know saw it, by default more than half. With
 * three places of which one is cut off and knows nothing, two know: where one of these saw it, half is not more than half, so it was not.
 */
final readonly class Availability
{
    private const MINUTE_MS = 60_000;
    private const COUNTS_INTERVALS = 3;

    /**
     * @param int $minutes   that were looked at
     * @param int $available in which it was there
     * @param int $unknown   of which no place knows
     * @param int $slow      of those in which it was there
     */
    private function __construct(public int $minutes, public int $available, public int $unknown, public int $slow)
    {
    }

    /**
     * @param list<array<int, float>> $runs  of each place: time of each asking, ms, rising → 1 where it ran, 0 where it was down
     * @param list<array<int, float>> $slow  of each place: time → 1 where it took too long
     * @param float                   $share of the places that know, above which enough saw it
     */
    public static function of(array $runs, array $slow, int $fromMs, int $toMs, int $intervalMs, float $share = 0.5): self
    {
        $first = intdiv($fromMs + self::MINUTE_MS - 1, self::MINUTE_MS);
        $end = intdiv($toMs, self::MINUTE_MS);
        $seen = array_map(static fn(array $place): array => self::byMinute($place, $first, $end, $intervalMs), $runs);
        $late = array_map(static fn(array $place): array => self::byMinute($place, $first, $end, $intervalMs), $slow);
        [$available, $unknown, $slowMinutes] = [0, 0, 0];
        for ($minute = $first; $minute < $end; ++$minute) {
            $knows = array_filter(array_map(static fn(array $place): ?bool => $place[$minute] ?? null, $seen), is_bool(...));
            $sees = count(array_filter($knows));
            if ($knows === []) {
                ++$unknown;
            } elseif ($sees > $share * count($knows)) {
                ++$available;
                $isLate = count(array_filter(array_map(static fn(array $place): bool => $place[$minute] ?? false, $late)));
                $slowMinutes += (int) ($isLate > $share * $sees);
            }
        }

        return new self(max(0, $end - $first), $available, $unknown, $slowMinutes);
    }

    /** @return float|null of the minutes of which somebody knows; null where nobody does */
    public function share(): ?float
    {
        $known = $this->minutes - $this->unknown;

        return $known === 0 ? null : $this->available / $known;
    }

    /**
     * @param array<int, float> $readings
     *
     * @return array<int, bool> minute since 1970 → whether it was so in more than half of it
     */
    private static function byMinute(array $readings, int $first, int $end, int $intervalMs): array
    {
        $counts = [];
        foreach ($readings as $at => $value) {
            $minute = intdiv($at, self::MINUTE_MS);
            [$all, $so] = $counts[$minute] ?? [0, 0];
            $counts[$minute] = [$all + 1, $so + (int) ($value > 0.5)];
        }
        $isSo = [];
        $last = null;
        $lastMinute = 0;
        $keeps = intdiv(self::COUNTS_INTERVALS * $intervalMs, self::MINUTE_MS);
        foreach ($counts === [] ? [] : range(min(array_keys($counts)), $end - 1) as $minute) {
            if (isset($counts[$minute])) {
                [$all, $so] = $counts[$minute];
                [$last, $lastMinute] = [2 * $so > $all, $minute];
            }
            if ($minute >= $first && $last !== null && $minute - $lastMinute <= $keeps) {
                $isSo[$minute] = $last;
            }
        }

        return $isSo;
    }
}

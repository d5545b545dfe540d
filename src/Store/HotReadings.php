<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Platform\Clock;
use Olivine\Core\Formula\Estimate;
use Olivine\Core\Formula\HeldReadings;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/**
 * The windows that rules look at instant after instant: of a mean over five minutes that is looked at every 15 s, each look reads
 * the newest row and has the nineteen before at hand. Only while one look follows the other close to the present, only of short windows, and only
 * of so much altogether; all else is read from the store.
 */
final class HotReadings implements HeldReadings
{
    private const LONGEST_WINDOW_MS = 1_800_000;
    private const FARTHEST_STEP_MS = 300_000;
    /** What is newer than this is in rows, not in blocks yet. */
    private const IN_ROWS_MS = Sealer::SETTLE_MS - 60_000;
    private const MOST_VALUES = 6_000_000;

    /** @var \WeakMap<Select, HotColumns> */
    private \WeakMap $held;

    public function __construct(
        private readonly StoredReadings $readings,
        private readonly SeriesIndex $index,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->held = new \WeakMap();
    }

    /**
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws DamagedBlock  where what is stored is not what was written
     */
    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        $selected = $this->index->select($what);
        $columns = $this->held[$what] ?? null;
        $goesOn = $columns !== null
            && $afterMs >= $columns->afterMs
            && $throughMs >= $columns->throughMs()
            && $throughMs - $columns->throughMs() <= self::FARTHEST_STEP_MS
            && $columns->throughMs() > $this->clock->now()->ms - self::IN_ROWS_MS;
        if (!$goesOn) {
            unset($this->held[$what]);

            return $this->begin($what, $selected, $afterMs, $throughMs);
        }
        $new = $columns->without($selected);
        if ($new !== []) {
            [$times, $values] = $this->readings->columns($new, $columns->afterMs, $columns->throughMs());
            $columns->take($new, $times, $values);
        }
        $columns->add($this->readings->rows(array_keys($columns->slots), $columns->throughMs(), $throughMs), $afterMs, $throughMs);

        return $columns->windows($selected);
    }

    /**
     * @param list<IndexedSeries> $selected
     *
     * @return list<Window>
     *
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws DamagedBlock  where what is stored is not what was written
     */
    private function begin(Select $what, array $selected, int $afterMs, int $throughMs): array
    {
        $isShort = $throughMs - $afterMs <= self::LONGEST_WINDOW_MS;
        if (!$isShort || $selected === [] || $this->count($selected, $afterMs, $throughMs) > self::MOST_VALUES) {
            return $this->readings->windows($what, $afterMs, $throughMs);
        }
        [$times, $values] = $this->readings->columns($selected, $afterMs, $throughMs);
        $this->held[$what] = $columns = HotColumns::of($selected, $times, $values, $afterMs, $throughMs);

        return $columns->windows($selected);
    }

    public function forget(Select $what): void
    {
        unset($this->held[$what]);
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
    {
        return $this->readings->buckets($what, $tier, $detail, $afterMs, $throughMs);
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        return $this->readings->remains($what, $tier, $afterMs, $throughMs);
    }

    public function alerts(string $rule, int $afterMs, int $throughMs): array
    {
        return $this->readings->alerts($rule, $afterMs, $throughMs);
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
    {
        return $this->readings->estimate($what, $afterMs, $throughMs);
    }

    public function longestStaleMs(Select $what): int
    {
        return $this->readings->longestStaleMs($what);
    }

    /** @param list<IndexedSeries> $selected */
    private function count(array $selected, int $afterMs, int $throughMs): float
    {
        $count = 0.0;
        foreach ($this->held as $columns) {
            $count += $columns->count();
        }
        foreach ($selected as $series) {
            $count += ($throughMs - $afterMs) / $series->intervalMs();
        }

        return $count;
    }
}

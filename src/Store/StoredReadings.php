<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\DriverException;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Formula\Estimate;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/** Reads windows out of blocks and scrape rows, all as of one instant, so that sealing in between is not seen. */
final readonly class StoredReadings implements ReadingSource
{
    private const MOST_SERIES = 200_000;
    private const MOST_READINGS = 10_000_000;
    private const MOST_TRIES = 5;
    private const OF_TIMES = 0;
    private const OF_BLOCKS = 1;
    private const OF_ROWS = 2;

    public function __construct(private Connection $connection, private SeriesIndex $index, private StoredRollups $rollups)
    {
    }

    public function longestStaleMs(Select $what): int
    {
        return $this->index->longestStaleMs($what);
    }

    public function alerts(string $rule, int $afterMs, int $throughMs): array
    {
        return (new AlertWindows($this->connection))->of($rule, $afterMs, $throughMs);
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
    {
        $readings = 0.0;
        $selected = $this->index->select($what);
        foreach ($selected as $series) {
            $readings += ($throughMs - $afterMs) / $series->intervalMs();
        }

        return new Estimate(count($selected), $readings);
    }

    /**
     * The same windows a few series at a time, so that no more than so many readings are held at once.
     *
     * @return iterable<Window>
     *
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws DamagedBlock  where what is stored is not what was written
     */
    public function inParts(Select $what, int $afterMs, int $throughMs, int $mostReadings): iterable
    {
        $part = [];
        $readings = 0.0;
        foreach ($this->index->select($what) as $series) {
            $part[] = $series;
            $readings += ($throughMs - $afterMs) / $series->intervalMs();
            if ($readings >= $mostReadings) {
                yield from $this->read($part, $afterMs, $throughMs, $what->metric);
                [$part, $readings] = [[], 0.0];
            }
        }
        yield from $this->read($part, $afterMs, $throughMs, $what->metric);
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
    {
        $selected = $this->index->select($what);

        return $this->snapshot(
            fn(): ?array => $this->rollups->buckets($selected, $tier, $detail, $afterMs, $throughMs, $this->read(...)),
        );
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        if (!$this->rollups->wasLetGo($afterMs)) {
            return null;
        }
        $selected = $this->index->select($what);

        return $this->snapshot(fn(): ?array => $this->rollups->remains($selected, $tier, $afterMs, $throughMs, $this->read(...)));
    }

    /**
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws DamagedBlock  where what is stored is not what was written
     */
    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        return $this->read($this->index->select($what), $afterMs, $throughMs, $what->metric);
    }

    /**
     * @param list<IndexedSeries> $selected
     *
     * @return array{array<int, list<int>>, array<int, list<float|null>>} times and values by series
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public function columns(array $selected, int $afterMs, int $throughMs): array
    {
        return $this->stored($selected, $afterMs, $throughMs);
    }

    /**
     * @return int|null before which instant there is nothing of it, neither readings nor roll-ups; null where there is nothing at all
     *
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function beginsAt(Select $what): ?int
    {
        $pages = array_values(array_unique(array_column($this->index->select($what), 'page')));
        if ($pages === []) {
            return null;
        }
        $begins = $this->connection
            ->executeQuery(
                'SELECT MIN(at) FROM (SELECT MIN(from_at) AS at FROM block_time WHERE page IN (:pages)
                 UNION ALL SELECT MIN(from_at) FROM rollup_time_1h WHERE page IN (:pages)
                 UNION ALL SELECT MIN(at) FROM scrape_row WHERE page IN (:pages)) begins',
                ['pages' => $pages],
                ['pages' => ArrayParameterType::INTEGER],
            )
            ->fetchOne();

        return $begins === null || $begins === false ? null : Scalar::int($begins);
    }

    /**
     * Rows as they are packed, of those that were not sealed yet.
     *
     * @param list<int> $pages
     *
     * @return iterable<array{int, int, string}> page, time and what is packed, in the order of time
     */
    public function rows(array $pages, int $afterMs, int $throughMs): iterable
    {
        $rows = $this->connection->executeQuery(
            'SELECT page, at, packed FROM scrape_row WHERE page IN (?) AND at > ? AND at <= ? ORDER BY at',
            [$pages, $afterMs, $throughMs],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
        );
        foreach ($rows->iterateNumeric() as [$page, $at, $packed]) {
            yield [Scalar::int($page), Scalar::int($at), Scalar::text($packed)];
        }
    }

    /**
     * @param list<IndexedSeries> $selected
     *
     * @return list<Window>
     *
     * @throws TooMuchToRead
     * @throws DamagedBlock
     */
    private function read(array $selected, int $afterMs, int $throughMs, string $metric = 'this'): array
    {
        if ($selected === []) {
            return [];
        }
        // The plan refuses most of these; this holds where its guess was wrong.
        $readings = 0.0;
        foreach ($selected as $series) {
            $readings += ($throughMs - $afterMs) / $series->intervalMs();
        }
        if ($readings > self::MOST_READINGS && count($selected) > 1) {
            throw new TooMuchToRead(
                sprintf(
                    '%s has about %s M readings in this span, more than the %d M that are read at once; narrow it with where, or choose a shorter span',
                    $metric,
                    number_format($readings / 1e6, 1),
                    self::MOST_READINGS / 1_000_000,
                ),
            );
        }
        if (count($selected) > self::MOST_SERIES) {
            throw new TooMuchToRead(
                sprintf(
                    '%s selects %d series, more than the %d that one formula may read; narrow it with where',
                    $metric,
                    count($selected),
                    self::MOST_SERIES,
                ),
            );
        }

        [$times, $values] = $this->stored($selected, $afterMs, $throughMs);
        $windows = [];
        foreach ($selected as $series) {
            if (($times[$series->id] ?? []) !== []) {
                $windows[] = new Window($series->labels, $times[$series->id], $values[$series->id], $series->staleMs, $series->firstMs);
            }
        }

        return $windows;
    }

    /**
     * Everything that the work reads is of one instant. A partition that was packed tight since then has no past, and
     * the server says so; then all of it is read anew.
     *
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     */
    private function snapshot(callable $work): mixed
    {
        if ($this->connection->isTransactionActive()) {
            return $work();
        }
        for ($try = 1; ; ++$try) {
            $this->connection->beginTransaction();
            try {
                return $work();
            } catch (DriverException $error) {
                if ($error->getCode() !== Database::HAS_NO_PAST || $try === self::MOST_TRIES) {
                    throw $error;
                }
            } finally {
                if ($this->connection->isTransactionActive()) {
                    $this->connection->commit();
                }
            }
        }
    }

    /**
     * All in one statement: what it reads is of one instant.
     *
     * @param list<IndexedSeries> $selected
     *
     * @return array{array<int, list<int>>, array<int, list<float|null>>} times and values by series
     *
     * @throws DamagedBlock
     */
    private function stored(array $selected, int $afterMs, int $throughMs): array
    {
        $slots = [];
        $pageOf = [];
        foreach ($selected as $series) {
            $slots[$series->page][$series->id] = $series->slot;
            $pageOf[$series->id] = $series->page;
        }
        $found = $this->connection->executeQuery(
            'SELECT ' .
                self::OF_TIMES .
                ', page, from_at, packed FROM block_time WHERE page IN (:pages) AND from_at >= :day AND from_at < :through' .
                ' UNION ALL SELECT ' .
                self::OF_BLOCKS .
                ', series, from_at, packed FROM block WHERE series IN (:series) AND from_at >= :day AND from_at < :through AND to_at > :after' .
                ' UNION ALL SELECT ' .
                self::OF_ROWS .
                ', page, at, packed FROM scrape_row WHERE page IN (:pages) AND at > :after AND at <= :through',
            [
                'pages' => array_keys($slots),
                'series' => array_keys($pageOf),
                'day' => Span::dayOf($afterMs + 1),
                'after' => $afterMs,
                'through' => $throughMs,
            ],
            [
                'pages' => ArrayParameterType::INTEGER,
                'series' => ArrayParameterType::INTEGER,
                'day' => ParameterType::INTEGER,
                'after' => ParameterType::INTEGER,
                'through' => ParameterType::INTEGER,
            ],
        );
        $runs = [];
        $blocks = [];
        $rows = new RowColumns($slots);
        foreach ($found->iterateNumeric() as [$kind, $id, $at, $packed]) {
            match (Scalar::int($kind)) {
                self::OF_TIMES => ($runs[Scalar::int($id)][Scalar::int($at)] = self::inBounds(
                    Scalar::text($packed),
                    $afterMs,
                    $throughMs,
                )),
                self::OF_BLOCKS => ($blocks[Scalar::int($id)][Scalar::int($at)] = Scalar::text($packed)),
                default => $rows->take(Scalar::int($id), Scalar::int($at), Scalar::text($packed)),
            };
        }
        [$times, $values] = self::unpacked($blocks, array_map(array_filter(...), $runs), $pageOf);
        foreach ($rows->bySeries() as $id => [$rowTimes, $rowValues]) {
            [$times[$id], $values[$id]] = isset($times[$id])
                ? self::inOrder($times[$id], $values[$id], $rowTimes, $rowValues)
                : [$rowTimes, $rowValues];
        }

        return [$times, $values];
    }

    /**
     * When a page was read in one run, as far as it lies inside the bounds.
     *
     * @throws DamagedBlock
     */
    private static function inBounds(string $packed, int $afterMs, int $throughMs): ?RunTimes
    {
        $times = BlockCodec::unpackTimes($packed);
        $low = Window::firstAfter($times, $afterMs);
        $high = Window::firstAfter($times, $throughMs);
        if ($low >= $high) {
            return null;
        }

        return new RunTimes($low === 0 && $high === count($times) ? $times : array_slice($times, $low, $high - $low), $low);
    }

    /**
     * @param array<int, array<int, string>>   $blocks series → start of the run → what is packed
     * @param array<int, array<int, RunTimes>> $runs   page → start of the run → times inside the bounds, where there are any
     * @param array<int, int>                  $pageOf
     *
     * @return array{array<int, list<int>>, array<int, list<float|null>>} times and values by series
     *
     * @throws DamagedBlock
     */
    private static function unpacked(array $blocks, array $runs, array $pageOf): array
    {
        foreach ($runs as &$ofPage) {
            ksort($ofPage);
        }
        unset($ofPage);
        $parts = [];
        $marked = [];
        foreach ($blocks as $id => $byRun) {
            ksort($byRun);
            foreach ($byRun as $fromAt => $packed) {
                $run = $runs[$pageOf[$id]][$fromAt] ?? null;
                if ($run === null) {
                    continue;
                }
                $values = BlockCodec::unpackPart($packed, $run->first, count($run->times));
                if (is_nan((float) array_sum($values))) {
                    [$marked[$id][$fromAt], $values] = ScrapeValues::readColumn($run->times, $values);
                }
                $parts[$id][$fromAt] = $values;
            }
        }

        return self::joined($parts, $marked, $runs, $pageOf);
    }

    /**
     * Series that were in every scrape of their page share one list of times. A series without a block in a run of its
     * page was not in any scrape of that run: if it was there before, it ended with the first of them.
     *
     * @param array<int, array<int, list<float|null>>> $parts  series → run → values
     * @param array<int, array<int, list<int>>>        $marked series → run → times, where they are not those of the page
     * @param array<int, array<int, RunTimes>>         $runs
     * @param array<int, int>                          $pageOf
     *
     * @return array{array<int, list<int>>, array<int, list<float|null>>} times and values by series
     */
    private static function joined(array $parts, array $marked, array $runs, array $pageOf): array
    {
        $shared = [];
        $times = [];
        $values = [];
        foreach ($parts as $id => $byRun) {
            $ofPage = $runs[$pageOf[$id]];
            if (!isset($marked[$id]) && count($byRun) === count($ofPage)) {
                $times[$id] = $shared[$pageOf[$id]] ??= array_merge(
                    ...array_values(array_map(static fn(RunTimes $run): array => $run->times, $ofPage)),
                );
                $values[$id] = array_merge(...array_values($byRun));
                continue;
            }
            $ownTimes = [];
            $ownValues = [];
            $goesOn = false;
            foreach ($ofPage as $start => $run) {
                if (isset($byRun[$start])) {
                    $ownTimes[] = $marked[$id][$start] ?? $run->times;
                    $ownValues[] = $byRun[$start];
                } elseif ($goesOn) {
                    $ownTimes[] = [$run->times[0]];
                    $ownValues[] = [null];
                }
                $goesOn = isset($byRun[$start]);
            }
            $times[$id] = array_merge(...$ownTimes);
            $values[$id] = array_merge(...$ownValues);
        }

        return [$times, $values];
    }

    /**
     * Rows mostly come after the blocks; those that came late lie between, until they are sealed. What is in a block
     * was there first and stays.
     *
     * @param list<int>        $times
     * @param list<float|null> $values
     * @param list<int>        $rowTimes
     * @param list<float|null> $rowValues
     *
     * @return array{list<int>, list<float|null>}
     */
    private static function inOrder(array $times, array $values, array $rowTimes, array $rowValues): array
    {
        if ($times === [] || $rowTimes === [] || $rowTimes[0] > $times[count($times) - 1]) {
            return [array_merge($times, $rowTimes), array_merge($values, $rowValues)];
        }
        $byTime = array_combine($times, $values);
        foreach ($rowTimes as $i => $at) {
            $byTime[$at] ??= $rowValues[$i];
        }
        ksort($byTime);

        return [array_keys($byTime), array_values($byTime)];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Rollup;
use Olivine\Core\Series\RollupCodec;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/** Reads roll-ups of what is sealed, and rolls up what is not yet. */
final readonly class StoredRollups
{
    /** For less than this, readings are as quick. */
    private const LEAST_SPAN_MS = 21_600_000;

    private Retention $retention;

    public function __construct(private Connection $connection)
    {
        $this->retention = new Retention($connection);
    }

    /** Whether readings after this instant may have been let go. */
    public function wasLetGo(int $afterMs): bool
    {
        return $afterMs < $this->retention->letGoBefore(RetentionTier::Readings);
    }

    /**
     * @param list<IndexedSeries>                                   $selected
     * @param callable(list<IndexedSeries>, int, int): list<Window> $read
     *
     * @return list<Buckets>|null null where readings are there
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public function remains(array $selected, Tier $tier, int $afterMs, int $throughMs, callable $read): ?array
    {
        $pages = array_values(array_unique(array_map(static fn(IndexedSeries $series): int => $series->page, $selected)));

        return $pages !== [] && $this->outliveReadings($pages, $tier, $afterMs, $throughMs)
            ? $this->buckets($selected, $tier, Detail::Everything, $afterMs, $throughMs, $read)
            : null;
    }

    /**
     * @param list<IndexedSeries>                                   $selected
     * @param callable(list<IndexedSeries>, int, int): list<Window> $read     the readings themselves
     *
     * @return list<Buckets>|null null where there are none that would be exact
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public function buckets(array $selected, Tier $tier, Detail $detail, int $afterMs, int $throughMs, callable $read): ?array
    {
        if ($selected === []) {
            return null;
        }
        $byId = [];
        $pages = [];
        foreach ($selected as $series) {
            $byId[$series->id] = $series;
            $pages[$series->page] = true;
        }
        $pages = array_keys($pages);
        $rolledMs = $this->rolledThrough($pages, $tier, $afterMs, $throughMs);
        if (
            $rolledMs <= $afterMs
            || ($rolledMs - $afterMs < self::LEAST_SPAN_MS && !$this->outliveReadings($pages, $tier, $afterMs, $rolledMs))
        ) {
            return null;
        }
        $columns = $this->sealed($byId, $pages, $tier, $detail, $afterMs, $rolledMs);
        $fresh = [];
        if ($rolledMs < $throughMs) {
            $buckets = intdiv($throughMs - $rolledMs, $tier->bucketMs());
            foreach ($read($selected, $rolledMs, $throughMs) as $window) {
                // Labels tell series apart within one selection.
                $fresh[$window->labels->key()] = Rollup::of(
                    $window->times,
                    $window->values,
                    $rolledMs,
                    $tier->bucketMs(),
                    $buckets,
                    true,
                );
            }
        }
        $found = [];
        foreach ($byId as $id => $series) {
            $parts = $columns[$id] ?? [];
            $key = $series->labels->key();
            if (isset($fresh[$key])) {
                $parts[] = [$rolledMs, $fresh[$key]];
            }
            $found[] = self::joined($series, $parts, $tier, $detail, $afterMs, $rolledMs, $throughMs);
        }

        return array_values(array_filter($found, static fn(Buckets $buckets): bool => $buckets->ends !== []));
    }

    /**
     * Everything up to this instant is rolled up. After it there are readings: in rows still, or of pages that were read
     * seldom, which have no five-minute roll-ups as long as they have readings.
     *
     * @param list<int> $pages
     */
    private function rolledThrough(array $pages, Tier $tier, int $afterMs, int $throughMs): int
    {
        $row = $this->connection
            ->executeQuery('SELECT MIN(at) FROM scrape_row WHERE page IN (?)', [$pages], [ArrayParameterType::INTEGER])
            ->fetchOne();
        $through = $row === null || $row === false ? $throughMs : min($throughMs, Span::startOf(Scalar::int($row)));
        if ($tier !== Tier::FiveMinutes || $through <= $afterMs) {
            return $through;
        }
        $lacking = $this->connection
            ->executeQuery(
                'SELECT MIN(b.from_at) FROM block_time b LEFT JOIN rollup_time_5m r ON r.page = b.page AND r.from_at = b.from_at
                 WHERE b.page IN (?) AND b.from_at >= ? AND b.from_at < ? AND r.page IS NULL',
                [$pages, Span::dayOf($afterMs + 1), $through],
                [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
            )
            ->fetchOne();

        return $lacking === null || $lacking === false ? $through : Scalar::int($lacking);
    }

    /**
     * Whether there are days of which only the roll-ups are left.
     *
     * @param list<int> $pages
     */
    private function outliveReadings(array $pages, Tier $tier, int $afterMs, int $throughMs): bool
    {
        $day = Span::DAY_MS;

        return $this->wasLetGo($afterMs)
            && $this->connection
                ->executeQuery(
                    "SELECT 1 FROM rollup_time_{$tier->value} r
                     WHERE r.page IN (?) AND r.from_at >= ? AND r.from_at < ? AND NOT EXISTS (SELECT 1 FROM block_time b
                     WHERE b.page = r.page AND b.from_at >= r.from_at - r.from_at % {$day}
                     AND b.from_at < r.from_at - r.from_at % {$day} + {$day}) LIMIT 1",
                    [$pages, Span::dayOf($afterMs + 1), $throughMs],
                    [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
                )
                ->fetchOne() !== false;
    }

    /**
     * @param array<int, IndexedSeries> $byId
     * @param list<int>                 $pages
     *
     * @return array<int, list<array{int, Rollup}>> series → start and roll-up of each row, oldest first
     *
     * @throws DamagedBlock
     */
    private function sealed(array $byId, array $pages, Tier $tier, Detail $detail, int $afterMs, int $rolledMs): array
    {
        $bounds = [Span::dayOf($afterMs + 1), $rolledMs];
        $types = [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER];
        $times = [];
        if ($detail === Detail::Everything) {
            $rows = $this->connection->executeQuery(
                "SELECT page, from_at, packed FROM rollup_time_{$tier->value} WHERE page IN (?) AND from_at >= ? AND from_at < ?",
                [$pages, ...$bounds],
                $types,
            );
            foreach ($rows->iterateNumeric() as [$page, $from, $packed]) {
                $times[Scalar::text($page) . ' ' . Scalar::text($from)] = RollupCodec::unpackTimes(Scalar::text($packed));
            }
        }
        $columns = [];
        $rows = $this->connection->executeQuery(
            "SELECT series, from_at, packed FROM rollup_{$tier->value} WHERE series IN (?) AND from_at >= ? AND from_at < ? ORDER BY series, from_at",
            [array_keys($byId), ...$bounds],
            $types,
        );
        foreach ($rows->iterateNumeric() as [$id, $from, $packed]) {
            if ($detail === Detail::Sums) {
                [$counts, $sums] = RollupCodec::unpackSums(Scalar::text($packed));
                $columns[Scalar::int($id)][] = [Scalar::int($from), new Rollup($counts, [], [], [], [], $sums, null, [], [])];
            } else {
                $columns[Scalar::int($id)][] = [
                    Scalar::int($from),
                    RollupCodec::unpack(Scalar::text($packed), $times["{$byId[Scalar::int($id)]->page} " . Scalar::text($from)]),
                ];
            }
        }

        return $columns;
    }

    /** @param list<array{int, Rollup}> $parts */
    private static function joined(
        IndexedSeries $series,
        array $parts,
        Tier $tier,
        Detail $detail,
        int $afterMs,
        int $rolledMs,
        int $throughMs,
    ): Buckets {
        $bucketMs = $tier->bucketMs();
        [$ends, $counts, $firsts, $lasts, $lows, $highs, $sums, $growths, $firstAts, $lastAts] = [
            [],
            [],
            [],
            [],
            [],
            [],
            [],
            [],
            [],
            [],
        ];
        $isCounter = true;
        foreach ($parts as [$from, $rollup]) {
            $bound = $from < $rolledMs ? $rolledMs : $throughMs;
            $isCounter = $isCounter && $rollup->growths !== null;
            $length = count($rollup->counts);
            if (
                $detail === Detail::Sums
                && $from >= $afterMs
                && $from + $length * $bucketMs <= $bound
                && !in_array(0, $rollup->counts, true)
            ) {
                array_push($ends, ...range($from + $bucketMs, $from + $length * $bucketMs, $bucketMs));
                array_push($counts, ...$rollup->counts);
                array_push($sums, ...$rollup->sums);
                continue;
            }
            foreach ($rollup->counts as $i => $count) {
                $end = $from + ($i + 1) * $bucketMs;
                if ($count === 0 || $end - $bucketMs < $afterMs || $end > $bound) {
                    continue;
                }
                $ends[] = $end;
                $counts[] = $count;
                $sums[] = $rollup->sums[$i];
                if ($detail === Detail::Everything) {
                    $firsts[] = $rollup->firsts[$i];
                    $lasts[] = $rollup->lasts[$i];
                    $lows[] = $rollup->lows[$i];
                    $highs[] = $rollup->highs[$i];
                    $growths[] = $rollup->growths[$i] ?? 0.0;
                    $firstAts[] = $from + $rollup->firstAts[$i];
                    $lastAts[] = $from + $rollup->lastAts[$i];
                }
            }
        }

        return new Buckets(
            $series->labels,
            $series->staleMs,
            $ends,
            $counts,
            $firsts,
            $lasts,
            $lows,
            $highs,
            $sums,
            $isCounter ? $growths : null,
            $firstAts,
            $lastAts,
            $series->firstMs,
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\Core\Series\Buckets;
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

    public function __construct(private Connection $connection)
    {
    }

    /**
     * @param list<IndexedSeries>                                   $selected
     * @param callable(list<IndexedSeries>, int, int): list<Window> $read     the readings themselves
     *
     * @return list<Buckets>|null null where there are none that would be exact
     */
    public function buckets(array $selected, Tier $tier, Detail $detail, int $afterMs, int $throughMs, callable $read): ?array
    {
        if ($selected === [] || $throughMs - $afterMs < self::LEAST_SPAN_MS) {
            return null;
        }
        $byId = [];
        $pages = [];
        foreach ($selected as $series) {
            // A reading before the window counts for growth as long as it is not stale; one bucket must hold it.
            if ($series->staleMs > $tier->bucketMs()) {
                return null;
            }
            $byId[$series->id] = $series;
            $pages[$series->page] = true;
        }
        $pages = array_keys($pages);
        $sealedMs = $this->sealedThrough($pages, $throughMs);
        if ($sealedMs - $afterMs < self::LEAST_SPAN_MS || ($tier === Tier::FiveMinutes && !$this->isWhole($pages, $afterMs, $sealedMs))) {
            return null;
        }
        $columns = $this->sealed($byId, $pages, $tier, $detail, $afterMs, $sealedMs);
        if ($sealedMs < $throughMs) {
            $buckets = intdiv($throughMs - $sealedMs, $tier->bucketMs());
            foreach ($read($selected, $sealedMs, $throughMs) as $window) {
                // Labels tell series apart within one selection.
                $fresh[$window->labels->key()] = Rollup::of($window->times, $window->values, $sealedMs, $tier->bucketMs(), $buckets, true);
            }
        }
        $found = [];
        foreach ($byId as $id => $series) {
            $parts = $columns[$id] ?? [];
            $key = $series->labels->key();
            if (isset($fresh[$key])) {
                $parts[] = [$sealedMs, $fresh[$key]];
            }
            $found[] = self::joined($series, $parts, $tier, $detail, $afterMs, $sealedMs, $throughMs);
        }

        return array_values(array_filter($found, static fn(Buckets $buckets): bool => $buckets->ends !== []));
    }

    /**
     * Everything up to this instant is in blocks and roll-ups, and nothing of it in rows.
     *
     * @param list<int> $pages
     */
    private function sealedThrough(array $pages, int $throughMs): int
    {
        $oldest = $this->connection->executeQuery('SELECT MIN(at) FROM scrape_row WHERE page IN (?)', [$pages], [ArrayParameterType::INTEGER])->fetchOne();

        // Without a row everything is sealed, even where its readings have been let go and only roll-ups are left.
        return $oldest === null || $oldest === false ? $throughMs : min($throughMs, Span::startOf((int) $oldest));
    }

    /**
     * Pages that are read seldom have no five-minute roll-ups: their readings are as few. No sealed span may lack its own.
     *
     * @param list<int> $pages
     */
    private function isWhole(array $pages, int $afterMs, int $sealedMs): bool
    {
        $lacking = $this->connection->executeQuery(
            'SELECT 1 FROM block_time b LEFT JOIN rollup_time_5m r ON r.page = b.page AND r.from_at = b.from_at WHERE b.page IN (?) AND b.from_at > ? AND b.from_at < ? AND r.page IS NULL LIMIT 1',
            [$pages, $afterMs - Span::MS, $sealedMs],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
        )->fetchOne();

        return $lacking === false;
    }

    /**
     * @param array<int, IndexedSeries> $byId
     * @param list<int>                 $pages
     *
     * @return array<int, list<array{int, Rollup}>> series → start and roll-up of each row, oldest first
     */
    private function sealed(array $byId, array $pages, Tier $tier, Detail $detail, int $afterMs, int $sealedMs): array
    {
        $bounds = [$afterMs - $tier->spanMs(), $sealedMs];
        $types = [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER];
        $times = [];
        if ($detail === Detail::Everything) {
            $rows = $this->connection->executeQuery("SELECT page, from_at, packed FROM rollup_time_{$tier->value} WHERE page IN (?) AND from_at > ? AND from_at < ?", [$pages, ...$bounds], $types);
            foreach ($rows->iterateNumeric() as [$page, $from, $packed]) {
                $times["{$page} {$from}"] = RollupCodec::unpackTimes((string) $packed);
            }
        }
        $columns = [];
        $rows = $this->connection->executeQuery("SELECT series, from_at, packed FROM rollup_{$tier->value} WHERE series IN (?) AND from_at > ? AND from_at < ? ORDER BY series, from_at", [array_keys($byId), ...$bounds], $types);
        foreach ($rows->iterateNumeric() as [$id, $from, $packed]) {
            if ($detail === Detail::Sums) {
                [$counts, $sums] = RollupCodec::unpackSums((string) $packed);
                $columns[(int) $id][] = [(int) $from, new Rollup($counts, [], [], [], [], $sums, null, [], [])];
            } else {
                $columns[(int) $id][] = [(int) $from, RollupCodec::unpack((string) $packed, $times["{$byId[(int) $id]->page} {$from}"])];
            }
        }

        return $columns;
    }

    /** @param list<array{int, Rollup}> $parts */
    private static function joined(IndexedSeries $series, array $parts, Tier $tier, Detail $detail, int $afterMs, int $sealedMs, int $throughMs): Buckets
    {
        $bucketMs = $tier->bucketMs();
        [$ends, $counts, $firsts, $lasts, $lows, $highs, $sums, $growths, $firstAts, $lastAts] = [[], [], [], [], [], [], [], [], [], []];
        $isCounter = true;
        foreach ($parts as [$from, $rollup]) {
            $bound = $from < $sealedMs ? $sealedMs : $throughMs;
            $isCounter = $isCounter && $rollup->growths !== null;
            $length = count($rollup->counts);
            if ($detail === Detail::Sums && $from >= $afterMs && $from + $length * $bucketMs <= $bound && !in_array(0, $rollup->counts, true)) {
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

        return new Buckets($series->labels, $series->staleMs, $ends, $counts, $firsts, $lasts, $lows, $highs, $sums, $isCounter ? $growths : null, $firstAts, $lastAts);
    }
}

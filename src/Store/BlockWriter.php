<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\Rollup;
use Olivine\Core\Series\RollupCodec;
use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Series\Tier;

/**
 * Writes readings of one page as runs of blocks, one a series: values packed, with count, sum, end and a checksum
 * beside them; the times once for the page; and the roll-ups of the same readings. Whoever calls holds the transaction.
 */
final readonly class BlockWriter
{
    private const COLUMNS = ['series', 'from_at', 'to_at', 'readings', 'total', 'codec', 'checksum', 'packed'];
    private const ROWS_A_STATEMENT = 200;
    /** Fewer readings than this a bucket, and the readings themselves are as good. Those of each half minute are ten, where none is missed. */
    private const LEAST_A_BUCKET = 9;
    /** How a day that is over is cut: longer runs take less room beside their values. */
    private const RUNS_OF_DAY_MS = [Span::DAY_MS, Span::DAY_MS / 2, Span::DAY_MS / 3, Span::MS];
    private const MOST_A_RUN = 6_000;
    /** A longer block does not fit into its row: it gets pages of the server for itself, and leaves most of the last one empty. */
    private const LONGEST_IN_ROW = 8_000;
    /** More than one in so many that do not fit, and what they waste is more than what long runs save. */
    private const FIT_BUT_ONE_IN = 30;

    public function __construct(private Database $database)
    {
    }

    /** Whether readings of so many times are joined into runs of more than a span, once their day is over. */
    public static function joins(int $times): bool
    {
        return $times <= self::MOST_A_RUN;
    }

    /**
     * @param PageReadings     $readings within one day
     * @param array<int, true> $counters ids of the series that count
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public function write(int $page, PageReadings $readings, array $counters, bool $dayIsOver): void
    {
        $this->writeRuns($page, $readings, $counters, $dayIsOver);
        $this->writeHours($page, $readings, $counters);
    }

    /** @param array<int, true> $counters */
    public function writeRuns(int $page, PageReadings $readings, array $counters, bool $dayIsOver): void
    {
        $lengths = $dayIsOver && self::joins(count($readings->times)) ? self::RUNS_OF_DAY_MS : [Span::MS];
        do {
            $runs = $readings->cut((int) array_shift($lengths));
            $blocks = [];
            foreach ($runs as $start => $run) {
                array_push($blocks, ...self::blocks($start, $run));
            }
        } while ($lengths !== [] && self::areTooLong($blocks));
        foreach (array_chunk($blocks, self::ROWS_A_STATEMENT) as $chunk) {
            $this->database->upsert('block', self::COLUMNS, $chunk);
        }
        foreach ($runs as $start => $run) {
            $this->database->upsert(
                'block_time',
                ['page', 'from_at', 'packed'],
                [[$page, $start, BlockCodec::packTimes($run->times)]],
            );
            if (
                count($run->times) >=
                self::LEAST_A_BUCKET * intdiv(Span::through($start, $run->lastAt()), Tier::FiveMinutes->bucketMs())
            ) {
                $this->rollUp($page, $start, $run, $counters);
            }
        }
    }

    /**
     * Takes away the runs of a page that begin in a day, and their five-minute roll-ups, to write them anew.
     *
     * @param list<int> $series
     */
    public function clear(int $page, array $series, int $dayMs): void
    {
        $day = [$dayMs, $dayMs + Span::DAY_MS];
        foreach (
            ['block' => 'series', 'rollup_5m' => 'series', 'block_time' => 'page', 'rollup_time_5m' => 'page'] as $table => $key
        ) {
            $this->database->connection->executeStatement(
                "DELETE FROM {$table} WHERE {$key} IN (?) AND from_at >= ? AND from_at < ?",
                [$key === 'page' ? [$page] : $series, ...$day],
                [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
            );
        }
    }

    /** @return list<non-empty-list<int|float|string>> rows of the series that say anything in this run */
    private static function blocks(int $start, PageReadings $run): array
    {
        $blocks = [];
        foreach ($run->columns as $series => $values) {
            $present = $values;
            if (is_nan((float) array_sum($values))) {
                $present = array_values(array_filter($values, static fn(float $value): bool => !is_nan($value)));
                if ($present === [] && self::holdsOnlyMarks($values)) {
                    continue;
                }
            }
            $packed = BlockCodec::pack($values);
            $blocks[] = [
                $series,
                $start,
                $run->lastAt(),
                count($present),
                self::finite((float) array_sum($present)),
                BlockCodec::CODEC,
                crc32($packed),
                $packed,
            ];
        }

        return $blocks;
    }

    /** @param list<non-empty-list<int|float|string>> $blocks */
    private static function areTooLong(array $blocks): bool
    {
        $long = count(
            array_filter($blocks, static fn(array $block): bool => strlen((string) end($block)) > self::LONGEST_IN_ROW),
        );

        return $long * self::FIT_BUT_ONE_IN > count($blocks);
    }

    /**
     * The five-minute roll-ups of one run.
     *
     * @param array<int, true> $counters
     */
    public function rollUp(int $page, int $start, PageReadings $run, array $counters): void
    {
        \assert($run->times !== []);
        $tier = Tier::FiveMinutes;
        $buckets = intdiv(Span::through($start, $run->lastAt()), $tier->bucketMs());
        $rollups = [];
        foreach ($run->columns as $series => $values) {
            $rollups[$series] = Rollup::of($run->times, $values, $start, $tier->bucketMs(), $buckets, isset($counters[$series]));
        }
        $this->writeRollups($tier, $page, $start, self::pageTimes($run->times, $start, $tier, $buckets), $rollups);
    }

    /** Says that a run has been rolled up, though nothing of it could be read. */
    public function rollUpNothing(int $page, int $start): void
    {
        $this->writeRollups(Tier::FiveMinutes, $page, $start, [[0], [0]], []);
    }

    /**
     * The hours of these readings, laid into the row of their day.
     *
     * @param array<int, true> $counters
     *
     * @throws DamagedBlock
     */
    private function writeHours(int $page, PageReadings $readings, array $counters): void
    {
        [$times, $columns] = [$readings->times, $readings->columns];
        if ($times === []) {
            return;
        }
        $tier = Tier::Hour;
        $hours = intdiv(Span::DAY_MS, $tier->bucketMs());
        $day = Span::dayOf($times[0]);
        $first = Span::startOf($times[0]);
        $end = Span::startOf($times[count($times) - 1]) + Span::MS;
        $buckets = intdiv($end - $first, $tier->bucketMs());
        $at = intdiv($first - $day, $tier->bucketMs());
        $parts = [];
        foreach ($columns as $series => $values) {
            $parts[$series] = Rollup::of($times, $values, $first, $tier->bucketMs(), $buckets, isset($counters[$series]));
        }
        $pageTimes = self::pageTimes($times, $day, $tier, $hours);
        $there =
            $buckets === $hours
                ? null
                : $this->database->connection->fetchOne(
                    "SELECT packed FROM rollup_time_{$tier->value} WHERE page = ? AND from_at = ? FOR UPDATE",
                    [$page, $day],
                );
        $rollups = [];
        if (is_string($there)) {
            $oldTimes = RollupCodec::unpackTimes($there);
            foreach ([0, 1] as $end) {
                array_splice($oldTimes[$end], $at, $buckets, array_slice($pageTimes[$end], $at, $buckets));
            }
            $old = $this->rollups($tier, array_keys($columns), $day, RollupCodec::unpackTimes($there));
            foreach ($parts as $series => $part) {
                $rollups[$series] = ($old[$series] ?? Rollup::none($hours, isset($counters[$series])))->with(
                    $at,
                    $part,
                    $tier->bucketMs(),
                );
            }
            $pageTimes = $oldTimes;
        } else {
            foreach ($parts as $series => $part) {
                $rollups[$series] =
                    $buckets === $hours
                        ? $part
                        : Rollup::none($hours, isset($counters[$series]))->with($at, $part, $tier->bucketMs());
            }
        }
        $this->writeRollups($tier, $page, $day, $pageTimes, $rollups);
    }

    /**
     * @param list<int>                   $series
     * @param array{list<int>, list<int>} $pageTimes
     *
     * @return array<int, Rollup>
     *
     * @throws DamagedBlock
     */
    private function rollups(Tier $tier, array $series, int $fromMs, array $pageTimes): array
    {
        $rollups = [];
        $rows = $this->database->connection->executeQuery(
            "SELECT series, packed FROM rollup_{$tier->value} WHERE series IN (?) AND from_at = ?",
            [$series, $fromMs],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER],
        );
        foreach ($rows->iterateNumeric() as [$id, $packed]) {
            $rollups[Scalar::int($id)] = RollupCodec::unpack(Scalar::text($packed), $pageTimes);
        }

        return $rollups;
    }

    /**
     * @param array{list<int>, list<int>} $pageTimes
     * @param array<int, Rollup>          $rollups
     */
    private function writeRollups(Tier $tier, int $page, int $fromMs, array $pageTimes, array $rollups): void
    {
        $rows = [];
        foreach ($rollups as $series => $rollup) {
            if (array_sum($rollup->counts) > 0) {
                $rows[] = [$series, $fromMs, RollupCodec::pack($rollup, $pageTimes)];
            }
        }
        $this->database->upsert(
            "rollup_time_{$tier->value}",
            ['page', 'from_at', 'packed'],
            [[$page, $fromMs, RollupCodec::packTimes($pageTimes)]],
        );
        foreach (array_chunk($rows, self::ROWS_A_STATEMENT) as $chunk) {
            $this->database->upsert("rollup_{$tier->value}", ['series', 'from_at', 'packed'], $chunk);
        }
    }

    /**
     * @param non-empty-list<int> $times
     *
     * @return array{list<int>, list<int>} when the page was first and last read in each bucket, since the start
     */
    private static function pageTimes(array $times, int $fromMs, Tier $tier, int $buckets): array
    {
        $rollup = Rollup::of($times, array_fill(0, count($times), 0.0), $fromMs, $tier->bucketMs(), $buckets, false);

        return [$rollup->firstAts, $rollup->lastAts];
    }

    /** @param list<float> $values */
    private static function holdsOnlyMarks(array $values): bool
    {
        return str_replace([ScrapeValues::ABSENT, ScrapeValues::SILENT], '', ScrapeValues::pack($values)) === '';
    }

    private static function finite(float $value): float
    {
        return is_finite($value) ? $value : ($value > 0 ? PHP_FLOAT_MAX : -PHP_FLOAT_MAX);
    }
}

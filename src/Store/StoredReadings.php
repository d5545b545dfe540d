<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/** Reads windows out of blocks and scrape rows, in one snapshot, so that sealing in between is not seen. */
final readonly class StoredReadings implements ReadingSource
{
    private const MOST_SERIES = 5_000;

    public function __construct(private Connection $connection, private SeriesIndex $index, private StoredRollups $rollups)
    {
    }

    public function longestStaleMs(): int
    {
        return $this->index->longestStaleMs();
    }

    public function estimate(Select $what, int $afterMs, int $throughMs): int
    {
        $readings = 0.0;
        foreach ($this->index->select($what) as $series) {
            $readings += ($throughMs - $afterMs) / $series->intervalMs();
        }

        return (int) $readings;
    }

    public function buckets(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        return $this->rollups->buckets($this->index->select($what), $tier, $afterMs, $throughMs, $this->read(...));
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        return $this->read($this->index->select($what), $afterMs, $throughMs, $what->metric);
    }

    /**
     * @param list<IndexedSeries> $selected
     *
     * @return list<Window>
     */
    private function read(array $selected, int $afterMs, int $throughMs, string $metric = 'this'): array
    {
        if ($selected === []) {
            return [];
        }
        if (count($selected) > self::MOST_SERIES) {
            throw new TooMuchToRead(sprintf('%s selects %d series, more than the %d that one formula may read; narrow it with where', $metric, count($selected), self::MOST_SERIES));
        }

        $nested = $this->connection->isTransactionActive();
        $nested || $this->connection->beginTransaction();
        try {
            [$times, $values] = $this->blocks($selected, $afterMs, $throughMs);
            $this->rows($selected, $afterMs, $throughMs, $times, $values);
        } finally {
            $nested || !$this->connection->isTransactionActive() || $this->connection->commit();
        }
        $windows = [];
        foreach ($selected as $series) {
            if (($times[$series->id] ?? []) !== []) {
                $windows[] = new Window($series->labels, $times[$series->id], $values[$series->id], $series->staleMs);
            }
        }

        return $windows;
    }

    /**
     * @param list<IndexedSeries> $selected
     *
     * @return array{array<int, list<int>>, array<int, list<float|null>>} times and values by series
     */
    private function blocks(array $selected, int $afterMs, int $throughMs): array
    {
        $pageOf = [];
        foreach ($selected as $series) {
            $pageOf[$series->id] = $series->page;
        }
        $from = $afterMs - Span::MS;
        $pages = array_values(array_unique($pageOf));
        $pageTimes = [];
        $found = $this->connection->executeQuery(
            'SELECT page, from_at, packed FROM block_time WHERE page IN (?) AND from_at > ? AND from_at <= ?',
            [$pages, $from, $throughMs],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
        );
        foreach ($found->iterateNumeric() as [$page, $fromAt, $packed]) {
            $pageTimes["{$page} {$fromAt}"] = (string) $packed;
        }
        $times = [];
        $values = [];
        if ($pageTimes === []) {
            return [$times, $values];
        }
        $unpacked = [];
        $found = $this->connection->executeQuery(
            'SELECT series, from_at, to_at, packed FROM block WHERE series IN (?) AND from_at > ? AND from_at <= ? AND to_at > ? ORDER BY series, from_at',
            [array_keys($pageOf), $from, $throughMs, $afterMs],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
        );
        foreach ($found->iterateNumeric() as [$id, $fromAt, $toAt, $packed]) {
            $id = (int) $id;
            $at = $pageOf[$id] . ' ' . $fromAt;
            $blockTimes = $unpacked[$at] ??= BlockCodec::unpackTimes($pageTimes[$at]);
            $blockValues = BlockCodec::unpack((string) $packed);
            if (is_nan((float) array_sum($blockValues))) {
                [$blockTimes, $blockValues] = ScrapeValues::readColumn($blockTimes, $blockValues);
            }
            if ((int) $fromAt < $afterMs || (int) $toAt > $throughMs) {
                $low = self::firstAfter($blockTimes, $afterMs);
                $high = self::firstAfter($blockTimes, $throughMs);
                $blockTimes = array_slice($blockTimes, $low, $high - $low);
                $blockValues = array_slice($blockValues, $low, $high - $low);
            }
            if (isset($times[$id])) {
                array_push($times[$id], ...$blockTimes);
                array_push($values[$id], ...$blockValues);
            } else {
                $times[$id] = $blockTimes;
                $values[$id] = $blockValues;
            }
        }

        return [$times, $values];
    }

    /**
     * @param list<IndexedSeries>          $selected
     * @param array<int, list<int>>        $times
     * @param array<int, list<float|null>> $values
     *
     * @param-out array<int, list<int>>        $times
     * @param-out array<int, list<float|null>> $values
     */
    private function rows(array $selected, int $afterMs, int $throughMs, array &$times, array &$values): void
    {
        $ofPage = [];
        foreach ($selected as $series) {
            $ofPage[$series->page][] = $series;
        }
        $rows = $this->connection->executeQuery(
            'SELECT page, at, packed FROM scrape_row WHERE page IN (?) AND at > ? AND at <= ? ORDER BY page, at',
            [array_keys($ofPage), $afterMs, $throughMs],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
        );
        $previous = null;
        $wanted = [];
        $many = false;
        foreach ($rows->iterateNumeric() as [$page, $at, $packed]) {
            $at = (int) $at;
            $bytes = (string) $packed;
            $size = strlen($bytes);
            if ($page !== $previous) {
                $previous = $page;
                $wanted = $ofPage[(int) $page];
                $many = count($wanted) > 16;
            }
            /** @var array<int, float> $all */
            $all = $many ? unpack('e*', $bytes) : [];
            foreach ($wanted as $series) {
                $offset = $series->slot * 8;
                if ($offset >= $size) {
                    continue;
                }
                $value = $many ? $all[$series->slot + 1] : self::value($bytes, $offset);
                if (is_nan($value)) {
                    $bits = substr($bytes, $offset, 8);
                    if ($bits === ScrapeValues::SILENT) {
                        continue;
                    }
                    if ($bits === ScrapeValues::ABSENT) {
                        if (!isset($times[$series->id]) || end($values[$series->id]) === null) {
                            continue;
                        }
                        $value = null;
                    }
                }
                $times[$series->id][] = $at;
                $values[$series->id][] = $value;
            }
        }
    }

    private static function value(string $bytes, int $offset): float
    {
        /** @var array{1: float} $value */
        $value = unpack('e', $bytes, $offset);

        return $value[1];
    }

    /**
     * @param list<int> $times rising
     *
     * @return int the index of the first time after the bound
     */
    private static function firstAfter(array $times, int $bound): int
    {
        $low = 0;
        $high = count($times);
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($times[$middle] <= $bound) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Series\LabelSet;
use Symfony\Contracts\Service\ResetInterface;

/** Finds the series a formula selects; a metric's series are kept at hand for some seconds. */
final class SeriesIndex implements ResetInterface
{
    private const KEEP_MS = 3_000;

    /** @var array<string, array{int, list<IndexedSeries>}> */
    private array $kept = [];
    private ?int $longestStaleMs = null;

    public function __construct(private readonly Connection $connection)
    {
    }

    /** What was found for one request is looked up anew for the next. */
    public function reset(): void
    {
        $this->kept = [];
        $this->longestStaleMs = null;
    }

    /** @return list<IndexedSeries> */
    public function select(Select $what): array
    {
        $all = $this->ofMetric($what->metric);

        return $what->where === null ? $all : array_values(array_filter($all, static fn(IndexedSeries $series): bool => $what->where->accepts($series->labels)));
    }

    public function longestStaleMs(): int
    {
        return $this->longestStaleMs ??= 1000 * Target::STALE_INTERVALS * (int) $this->connection->fetchOne('SELECT COALESCE(MAX(interval_seconds), 60) FROM target');
    }

    /** @return list<IndexedSeries> */
    public function ofMetric(string $metric): array
    {
        $now = Clock::nowMs();
        if (isset($this->kept[$metric]) && $this->kept[$metric][0] > $now - self::KEEP_MS) {
            return $this->kept[$metric][1];
        }
        $found = [];
        $rows = $this->connection->fetchAllAssociative(
            'SELECT s.id, s.page, s.slot, s.labels, t.interval_seconds FROM series s JOIN metric m ON m.id = s.metric_id JOIN target t ON t.id = s.target_id WHERE m.name = ? AND t.removed_at IS NULL ORDER BY s.id',
            [$metric],
        );
        foreach ($rows as $row) {
            /** @var array<string, string> $labels */
            $labels = json_decode((string) $row['labels'], true, 8, JSON_THROW_ON_ERROR);
            $found[] = new IndexedSeries((int) $row['id'], (int) $row['page'], (int) $row['slot'], LabelSet::of($labels), 1000 * Target::STALE_INTERVALS * (int) $row['interval_seconds']);
        }
        $this->longestStaleMs = null;
        $this->kept[$metric] = [$now, $found];

        return $found;
    }
}

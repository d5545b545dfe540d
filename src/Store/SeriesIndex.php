<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Formula\EndlessPatience;
use Olivine\Core\Formula\Filters;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Patience;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Symfony\Contracts\Service\ResetInterface;

/**
 * Finds the series a formula selects; a metric's series are kept at hand for some seconds. The labels of a target are
 * laid over those of its series here, so a target that is renamed is so in all its history at once.
 */
final class SeriesIndex implements ResetInterface
{
    private const KEEP_MS = 3_000;
    private const FEW = 50;
    private const USUAL_STALE_MS = 60_000 * Target::STALE_INTERVALS;

    /** @var array<string, array{int, list<IndexedSeries>, string}> metric → when it was looked at, its series, and what they are told by */
    private array $kept = [];
    /** @var array{int, string} when the targets were looked at, and what they are told by */
    private array $targets = [0, ''];
    /** @var \WeakMap<Select, array{string, list<IndexedSeries>}> what a filter lets through of what is kept */
    private \WeakMap $selected;
    /** @var array<string, array{string, array<string, array<array-key, list<IndexedSeries>>>}> metric → what its series are told by, label → value → series */
    private array $byValue = [];
    /** @var array<string, array{string, int}> metric → what its series are told by, the longest of them */
    private array $longest = [];

    public function __construct(
        private readonly Connection $connection,
        private readonly Patience $patience = new EndlessPatience(),
        private readonly Clock $clock = new Clock(),
    ) {
        $this->selected = new \WeakMap();
    }

    /** What was found for one request is looked up anew for the next. */
    public function reset(): void
    {
        $this->kept = $this->byValue = $this->longest = [];
        $this->targets = [0, ''];
        $this->selected = new \WeakMap();
    }

    /**
     * @return list<IndexedSeries>
     *
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function select(Select $what): array
    {
        $all = $this->ofMetric($what->metric);
        if ($what->where === null) {
            return $all;
        }
        $told = $this->kept[$what->metric][2];
        $before = $this->selected[$what] ?? null;
        if ($before === null || $before[0] !== $told) {
            $found = [];
            foreach ($this->candidates($what->metric, $what->where, $all) as $series) {
                $this->patience->goOn();
                if ($what->where->accepts($series->labels)) {
                    $found[] = $series;
                }
            }
            $this->selected[$what] = $before = [$told, $found];
        }

        return $before[1];
    }

    /**
     * Most filters name a value: then only those with that value are looked at.
     *
     * @param list<IndexedSeries> $all
     *
     * @return list<IndexedSeries>
     */
    private function candidates(string $metric, Filter $where, array $all): array
    {
        $test = count($all) < self::FEW ? null : Filters::required($where);
        if ($test === null) {
            return $all;
        }
        $told = $this->kept[$metric][2];
        if (($this->byValue[$metric][0] ?? null) !== $told) {
            $this->byValue[$metric] = [$told, []];
        }
        if (!isset($this->byValue[$metric][1][$test->label])) {
            $byValue = [];
            foreach ($all as $series) {
                $byValue[$series->labels->get($test->label)][] = $series;
            }
            $this->byValue[$metric][1][$test->label] = $byValue;
        }

        return $this->byValue[$metric][1][$test->label][$test->values[0]] ?? [];
    }

    /** The longest after which a reading of one of these no longer speaks for the present; what is asked once a day makes no other wait. */
    public function longestStaleMs(Select $what): int
    {
        $all = $this->ofMetric($what->metric);
        $told = $this->kept[$what->metric][2];
        if (($this->longest[$what->metric][0] ?? null) !== $told) {
            $this->longest[$what->metric] = [$told, $all === [] ? self::USUAL_STALE_MS : max(array_column($all, 'staleMs'))];
        }

        return $this->longest[$what->metric][1];
    }

    /**
     * @param list<string> $metrics
     *
     * @return array<string, list<LabelSet>> metric → the labels of what this target has of it
     */
    public function ofTarget(int $targetId, array $metrics): array
    {
        $found = [];
        $rows = $this->connection->iterateNumeric(
            'SELECT m.name, s.labels, s.brings_labels, t.name, t.labels, l.name FROM metric m JOIN series s ON s.metric_id = m.id
             JOIN target t ON t.id = s.target_id JOIN page p ON p.id = s.page LEFT JOIN place l ON l.id = p.place WHERE s.target_id = ? AND m.name IN (?)',
            [$targetId, $metrics],
            [ParameterType::INTEGER, ArrayParameterType::STRING],
        );
        foreach ($rows as [$metric, $own, $brings, $name, $labels, $place]) {
            $laid = Labels::ofTarget(Scalar::text($name), Scalar::text($labels), Scalar::text($place ?? ''));
            $found[Scalar::text($metric)][] = Labels::laid(Scalar::text($own), $laid, (bool) $brings);
        }

        return $found;
    }

    /** @return list<IndexedSeries> */
    public function ofMetric(string $metric): array
    {
        $now = $this->clock->now()->ms;
        if (isset($this->kept[$metric]) && $this->kept[$metric][0] > $now - self::KEEP_MS) {
            return $this->kept[$metric][1];
        }
        // Whoever asks once, as a request does, need not know by what it could be told that nothing changed.
        $told = isset($this->kept[$metric]) ? $this->told($metric, $now) : 'first';
        if (isset($this->kept[$metric]) && $this->kept[$metric][2] === $told) {
            $this->kept[$metric][0] = $now;

            return $this->kept[$metric][1];
        }
        $found = [];
        $laid = [];
        $rows = $this->connection->fetchAllAssociative(
            'SELECT s.id, s.page, s.slot, s.labels, s.brings_labels, s.first_at, t.id AS target_id, t.name,
                t.labels AS target_labels, t.interval_seconds, l.name AS place
             FROM series s JOIN metric m ON m.id = s.metric_id JOIN target t ON t.id = s.target_id
             JOIN page p ON p.id = s.page LEFT JOIN place l ON l.id = p.place WHERE m.name = ? AND t.removed_at IS NULL ORDER BY s.id',
            [$metric],
        );
        foreach ($rows as $row) {
            $target = Scalar::int($row['target_id']);
            $place = Scalar::text($row['place'] ?? '');
            $laid["{$target} {$place}"] ??= Labels::ofTarget(Scalar::text($row['name']), Scalar::text($row['target_labels']), $place);
            $labels = Labels::laid(Scalar::text($row['labels']), $laid["{$target} {$place}"], (bool) $row['brings_labels']);
            $found[] = new IndexedSeries(
                Scalar::int($row['id']),
                Scalar::int($row['page']),
                Scalar::int($row['slot']),
                $labels,
                1000 * Target::STALE_INTERVALS * Scalar::int($row['interval_seconds']),
                $target,
                Scalar::int($row['first_at']),
            );
        }
        $this->kept[$metric] = [$now, $found, $told];

        return $found;
    }

    /** @return string another one where series came or went, or a target is called or read otherwise */
    private function told(string $metric, int $now): string
    {
        if ($this->targets[0] <= $now - self::KEEP_MS) {
            $targets = $this->connection->fetchNumeric(
                'SELECT COUNT(*), SUM(CRC32(CONCAT_WS(0x1f, id, name, labels, interval_seconds, removed_at))),
                    (SELECT SUM(CRC32(CONCAT_WS(0x1f, id, name))) FROM place) FROM target',
            );
            $this->targets = [$now, implode(' ', array_map(Scalar::text(...), array_filter($targets ?: [], is_scalar(...))))];
        }
        $series = $this->connection->fetchNumeric(
            'SELECT COUNT(*), MAX(s.id) FROM series s JOIN metric m ON m.id = s.metric_id WHERE m.name = ?',
            [$metric],
        );

        return "{$this->targets[1]} " . implode(' ', array_map(Scalar::text(...), array_filter($series ?: [], is_scalar(...))));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\OwnReadings;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Scalar;
use Olivine\App\Store\Answer\Metric;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Formula\Catalogue;

/** The metrics that targets have brought; what is known of them is kept at hand for some seconds, one that is not known is looked for at once. */
final class MetricCatalogue implements Catalogue
{
    private const KEEP_MS = 3_000;

    /** @var array<string, array{type: MetricType, unit: string, help: string}> */
    private array $known = [];
    private int $knownAt = 0;
    /** @var array<string, list<string>> metric → labels that any of its series has, as long as the rest is known */
    private array $labels = [];

    public function __construct(
        private readonly Connection $connection,
        private readonly SeriesIndex $index,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    public function has(string $metric): bool
    {
        return $this->about($metric) !== null;
    }

    public function unit(string $metric): string
    {
        return $this->about($metric)['unit'] ?? '';
    }

    public function names(): array
    {
        return array_keys($this->load());
    }

    public function labels(string $metric): array
    {
        if ($this->knownAt <= $this->clock->now()->ms - self::KEEP_MS) {
            $this->load();
        }

        return $this->labels[$metric] ??= $this->labelsOf($metric);
    }

    /** @return list<string> */
    private function labelsOf(string $metric): array
    {
        $labels = [];
        foreach ($this->index->ofMetric($metric) as $series) {
            $labels += $series->labels->labels;
        }

        return array_map(strval(...), array_keys($labels));
    }

    /** @return array{type: MetricType, unit: string, help: string}|null as its targets tell of it */
    public function about(string $metric): ?array
    {
        $fresh = $this->knownAt > $this->clock->now()->ms - self::KEEP_MS;

        return ($fresh ? $this->known[$metric] ?? null : null) ?? ($this->load()[$metric] ?? $this->ofOurOwn($metric));
    }

    /** @return array{type: MetricType, unit: string, help: string}|null what is written for every target, known before the first one is asked */
    private function ofOurOwn(string $metric): ?array
    {
        [$unit, $help] = OwnReadings::METRICS[$metric] ?? [null, ''];

        return $unit === null ? null : ['type' => MetricType::Gauge, 'unit' => $unit, 'help' => $help];
    }

    /** @return list<Metric> all that targets have brought, by name, with how many series each has */
    public function all(): array
    {
        return array_map(
            static fn(array $row): Metric => new Metric(
                name: Scalar::text($row['name']),
                help: Scalar::text($row['help']),
                series: Scalar::int($row['series']),
                type: Scalar::text($row['type']),
                unit: Scalar::text($row['unit']),
            ),
            $this->connection->fetchAllAssociative(
                'SELECT m.name, m.type, m.unit, m.help, COUNT(s.id) AS series
                 FROM metric m JOIN series s ON s.metric_id = m.id JOIN target t ON t.id = s.target_id AND t.removed_at IS NULL
                 GROUP BY m.id ORDER BY m.name',
            ),
        );
    }

    /** @return list<Metric> what one target has brought, by name, with how many series of it */
    public function ofTarget(int $targetId): array
    {
        $found = [];
        $rows = $this->connection->iterateNumeric(
            'SELECT m.name, COUNT(*) FROM series s JOIN metric m ON m.id = s.metric_id WHERE s.target_id = ?
             GROUP BY m.name ORDER BY m.name',
            [$targetId],
        );
        foreach ($rows as [$name, $series]) {
            $about = $this->about(Scalar::text($name));
            $found[] = new Metric(
                name: Scalar::text($name),
                help: $about['help'] ?? '',
                series: Scalar::int($series),
                type: $about['type']->value ?? '',
                unit: $about['unit'] ?? '',
            );
        }

        return $found;
    }

    /** @return array<string, array{type: MetricType, unit: string, help: string}> */
    private function load(): array
    {
        $this->known = [];
        $this->labels = [];
        $this->knownAt = $this->clock->now()->ms;
        foreach ($this->connection->fetchAllAssociative('SELECT name, type, unit, help FROM metric') as $row) {
            $this->known[Scalar::text($row['name'])] = [
                'type' => MetricType::tryFrom(Scalar::text($row['type'])) ?? MetricType::Unknown,
                'unit' => Scalar::text($row['unit']),
                'help' => Scalar::text($row['help']),
            ];
        }

        return $this->known;
    }
}

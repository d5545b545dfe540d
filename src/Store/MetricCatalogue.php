<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Clock;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Formula\Catalogue;

/** The metrics that targets have brought; what is known of them is kept at hand for some seconds, one that is not known is looked for at once. */
final class MetricCatalogue implements Catalogue
{
    private const KEEP_MS = 3_000;

    /** @var array<string, array{type: MetricType, unit: string, help: string}> */
    private array $known = [];
    private int $knownAt = 0;

    public function __construct(private readonly Connection $connection)
    {
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

    /** @return array{type: MetricType, unit: string, help: string}|null as its targets tell of it */
    public function about(string $metric): ?array
    {
        $fresh = $this->knownAt > Clock::nowMs() - self::KEEP_MS;

        return ($fresh ? $this->known[$metric] ?? null : null) ?? $this->load()[$metric] ?? null;
    }

    /** @return array<string, array{type: MetricType, unit: string, help: string}> */
    private function load(): array
    {
        $this->known = [];
        $this->knownAt = Clock::nowMs();
        foreach ($this->connection->fetchAllAssociative('SELECT name, type, unit, help FROM metric') as $row) {
            $this->known[(string) $row['name']] = ['type' => MetricType::tryFrom((string) $row['type']) ?? MetricType::Unknown, 'unit' => (string) $row['unit'], 'help' => (string) $row['help']];
        }

        return $this->known;
    }
}

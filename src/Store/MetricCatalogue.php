<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Formula\Catalogue;
use Symfony\Contracts\Service\ResetInterface;

/** The metrics that targets have brought. */
final class MetricCatalogue implements Catalogue, ResetInterface
{
    /** @var array<string, array{type: MetricType, unit: string, help: string}> */
    private array $known = [];

    public function __construct(private readonly Connection $connection)
    {
    }

    /** What was found for one request is looked up anew for the next. */
    public function reset(): void
    {
        $this->known = [];
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
        return $this->known[$metric] ?? $this->load()[$metric] ?? null;
    }

    /** @return array<string, array{type: MetricType, unit: string, help: string}> */
    private function load(): array
    {
        $this->known = [];
        foreach ($this->connection->fetchAllAssociative('SELECT name, type, unit, help FROM metric') as $row) {
            $this->known[(string) $row['name']] = ['type' => MetricType::tryFrom((string) $row['type']) ?? MetricType::Unknown, 'unit' => (string) $row['unit'], 'help' => (string) $row['help']];
        }

        return $this->known;
    }
}

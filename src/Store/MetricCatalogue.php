<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\Core\Formula\Catalogue;

/** The metrics that targets have brought. */
final class MetricCatalogue implements Catalogue
{
    /** @var array<string, string> */
    private array $units = [];

    public function __construct(private readonly Connection $connection)
    {
    }

    public function has(string $metric): bool
    {
        return isset($this->units[$metric]) || isset($this->load()[$metric]);
    }

    public function unit(string $metric): string
    {
        return $this->units[$metric] ?? $this->load()[$metric] ?? '';
    }

    public function names(): array
    {
        return array_keys($this->load());
    }

    /** @return array<string, string> */
    private function load(): array
    {
        $this->units = [];
        foreach ($this->connection->fetchAllAssociative('SELECT name, unit FROM metric') as $row) {
            $this->units[(string) $row['name']] = (string) $row['unit'];
        }

        return $this->units;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\Core\Formula\Catalogue;
use Symfony\Contracts\Service\ResetInterface;

/** The metrics that targets have brought. */
final class MetricCatalogue implements Catalogue, ResetInterface
{
    /** @var array<string, string> */
    private array $units = [];

    public function __construct(private readonly Connection $connection)
    {
    }

    /** What was found for one request is looked up anew for the next. */
    public function reset(): void
    {
        $this->units = [];
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

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\Core\Formula\Catalogue;

/** The metrics that targets have brought. */
final class MetricCatalogue implements Catalogue
{
    private const UNITS = [
        'seconds' => 'seconds', 'bytes' => 'bytes', 'ratio' => 'ratio', 'celsius' => '°C', 'volts' => 'V', 'percent' => '%',
    ];

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

    /** The unit that the UNIT line gives or the name ends in; buckets and counts of things have none. */
    public static function unitOf(string $name, string $declared): string
    {
        if (str_ends_with($name, '_bucket') || str_ends_with($name, '_count') || str_ends_with($name, '_info')) {
            return '';
        }
        $parts = explode('_', (string) preg_replace('~_(total|sum|gsum)$~', '', $name));

        return self::UNITS[end($parts)] ?? self::UNITS[$declared] ?? '';
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

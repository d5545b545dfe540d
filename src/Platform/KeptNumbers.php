<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Doctrine\DBAL\Connection;

/** Whole numbers by name that are kept as one setting. */
final readonly class KeptNumbers
{
    public function __construct(private Connection $connection, private string $setting)
    {
    }

    /** @return array<string, int> */
    public function all(): array
    {
        $stored = $this->connection->fetchOne('SELECT value FROM setting WHERE name = ?', [$this->setting]);

        /** @var array<string, int> */
        return array_filter((array) json_decode(is_string($stored) ? $stored : '[]', true), is_int(...));
    }

    /**
     * @param array<string, int> $usual
     *
     * @return array<string, int> by the same names what is kept, or the usual where nothing is
     */
    public function over(array $usual): array
    {
        return array_replace($usual, array_intersect_key($this->all(), $usual));
    }

    /** @param array<string, int> $numbers */
    public function keep(array $numbers): void
    {
        $this->connection->executeStatement(
            'INSERT INTO setting (name, value) VALUES (?, ?) ON DUPLICATE KEY UPDATE value = VALUES(value)',
            [$this->setting, json_encode($numbers, JSON_THROW_ON_ERROR)],
        );
    }
}

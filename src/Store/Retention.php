<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;

/** How long each tier is kept; set in Setup. */
final readonly class Retention
{
    private const SETTING = 'retention';

    public function __construct(private Connection $connection)
    {
    }

    /** @return array<string, int> tier → days */
    public function days(): array
    {
        $stored = $this->connection->fetchOne('SELECT value FROM setting WHERE name = ?', [self::SETTING]);
        $stored = is_string($stored) ? json_decode($stored, true) : [];
        $days = [];
        foreach (RetentionTier::cases() as $tier) {
            $kept = is_array($stored) ? $stored[$tier->value] ?? null : null;
            $days[$tier->value] = is_int($kept) ? $kept : $tier->usualDays();
        }

        return $days;
    }

    /** @param array<string, int> $days */
    public function keep(array $days): void
    {
        $this->connection->executeStatement('INSERT INTO setting (name, value) VALUES (?, ?) ON DUPLICATE KEY UPDATE value = VALUES(value)', [self::SETTING, json_encode($days, JSON_THROW_ON_ERROR)]);
    }
}

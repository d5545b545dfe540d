<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\Core\Series\Tier;

/** How long each tier is kept, set in Setup, and what was let go. */
final readonly class Retention
{
    private const SETTING = 'retention';
    private const LET_GO = 'let_go';

    public function __construct(private Connection $connection)
    {
    }

    /** @return array<string, int> tier → days */
    public function days(): array
    {
        $stored = $this->stored(self::SETTING);
        $days = [];
        foreach (RetentionTier::cases() as $tier) {
            $days[$tier->value] = $stored[$tier->value] ?? $tier->usualDays();
        }

        return $days;
    }

    /** @param array<string, int> $days */
    public function keep(array $days): void
    {
        $this->store(self::SETTING, $days);
    }

    public function letGoBefore(RetentionTier $tier): int
    {
        return $this->stored(self::LET_GO)[$tier->value] ?? 0;
    }

    public function rememberLetGo(RetentionTier $tier, int $beforeMs): void
    {
        $this->store(self::LET_GO, [$tier->value => $beforeMs] + $this->stored(self::LET_GO));
    }

    /** @return int the shortest time between instants that can still be told apart from then on; 0 where readings are there */
    public function finestMs(int $fromMs): int
    {
        $letGo = $this->stored(self::LET_GO);

        return match (true) {
            $fromMs < ($letGo[RetentionTier::FiveMinutes->value] ?? 0) => Tier::Hour->bucketMs(),
            $fromMs < ($letGo[RetentionTier::Readings->value] ?? 0) => Tier::FiveMinutes->bucketMs(),
            default => 0,
        };
    }

    /** @return array<string, int> by tier */
    private function stored(string $setting): array
    {
        $stored = $this->connection->fetchOne('SELECT value FROM setting WHERE name = ?', [$setting]);

        return array_filter((array) json_decode(is_string($stored) ? $stored : '[]', true), is_int(...));
    }

    /** @param array<string, int> $values */
    private function store(string $setting, array $values): void
    {
        $this->connection->executeStatement('INSERT INTO setting (name, value) VALUES (?, ?) ON DUPLICATE KEY UPDATE value = VALUES(value)', [$setting, json_encode($values, JSON_THROW_ON_ERROR)]);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\KeptNumbers;
use Olivine\Core\Series\Tier;

/** How long each tier is kept, set in Setup, and what was let go. */
final readonly class Retention
{
    private KeptNumbers $kept;
    private KeptNumbers $letGo;

    public function __construct(Connection $connection)
    {
        $this->kept = new KeptNumbers($connection, 'retention');
        $this->letGo = new KeptNumbers($connection, 'let_go');
    }

    /** @return array<string, int> tier → days */
    public function days(): array
    {
        $usual = [];
        foreach (RetentionTier::cases() as $tier) {
            $usual[$tier->value] = $tier->usualDays();
        }

        return $this->kept->over($usual);
    }

    /** @param array<string, int> $days */
    public function keep(array $days): void
    {
        $this->kept->keep($days);
    }

    public function letGoBefore(RetentionTier $tier): int
    {
        return $this->letGo->all()[$tier->value] ?? 0;
    }

    public function rememberLetGo(RetentionTier $tier, int $beforeMs): void
    {
        $this->letGo->keep([$tier->value => $beforeMs] + $this->letGo->all());
    }

    /** @return int the shortest time between instants that can still be told apart from then on; 0 where readings are there */
    public function finestMs(int $fromMs): int
    {
        $letGo = $this->letGo->all();

        return match (true) {
            $fromMs < ($letGo[RetentionTier::FiveMinutes->value] ?? 0) => Tier::Hour->bucketMs(),
            $fromMs < ($letGo[RetentionTier::Readings->value] ?? 0) => Tier::FiveMinutes->bucketMs(),
            default => 0,
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SlowAnswer;
use Olivine\Core\Time\Instant;

/**
 * What each partition of the tables of readings takes on disk; the server is slow to tell.
 *
 * @phpstan-type TierSizes array{partitions: list<array{endMs: int|null, rows: int, bytes: int}>, fromMs: int, coveredDays: int}
 * @phpstan-type Sizes array{tiers: array<value-of<RetentionTier>, TierSizes>, freshBytes: int, laterFold: float}
 */
final readonly class StoreSizes implements SlowAnswer
{
    public const NAME = 'store_sizes';
    private const RENEW_EVERY_MS = 60_000;

    public function __construct(private Connection $connection, private Partitions $partitions)
    {
    }

    public function name(): string
    {
        return self::NAME;
    }

    public function renewEveryMs(): int
    {
        return self::RENEW_EVERY_MS;
    }

    /** @return Sizes */
    public function work(Instant $now): array
    {
        $tiers = [];
        foreach (RetentionTier::cases() as $tier) {
            [$values, $times] = $tier->tables();
            // Both tables are cut at the same instants.
            $beside = array_column($this->partitions->of($times), 'bytes', 'name');
            $covered = $this->connection->fetchNumeric("SELECT MIN(from_at), MAX(from_at) FROM {$times}");
            $tiers[$tier->value] = [
                'partitions' => array_map(
                    static fn(array $one): array => [
                        'endMs' => $one['endMs'],
                        'rows' => $one['rows'],
                        'bytes' => $one['bytes'] + ($beside[$one['name']] ?? 0),
                    ],
                    $this->partitions->of($values),
                ),
                'fromMs' => Scalar::int($covered[0] ?? 0),
                'coveredDays' =>
                    $covered === false || $covered[0] === null
                        ? 0
                        : max(1, Scalar::int(ceil((Scalar::int($covered[1]) - Scalar::int($covered[0])) / Span::DAY_MS))),
            ];
        }
        $fresh = $this->connection->fetchOne(
            "SELECT DATA_LENGTH + INDEX_LENGTH FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'scrape_row'",
        );

        return ['tiers' => $tiers, 'freshBytes' => Scalar::int($fresh), 'laterFold' => $this->laterFold($now->ms)];
    }

    /** How much more the five-minute roll-ups of a day take once its readings are let go: then all series have them, not only those read often. */
    private function laterFold(int $nowMs): float
    {
        $day = Span::dayOf($nowMs) - Span::DAY_MS;
        [$often, $all] = array_map(
            fn(string $table): int => Scalar::int(
                $this->connection->fetchOne(
                    "SELECT COUNT(*) FROM series WHERE page IN (SELECT page FROM {$table} WHERE from_at >= ? AND from_at < ?)",
                    [$day, $day + Span::DAY_MS],
                ),
            ),
            ['rollup_time_5m', 'rollup_time_1h'],
        );

        return $often === 0 ? 1.0 : max(1.0, $all / $often);
    }
}

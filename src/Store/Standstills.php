<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Scalar;
use Olivine\App\Rule\SettledReadings;
use Olivine\App\Store\Answer\Standstill;
use Olivine\Core\Time\Instant;

/** Spans in which nobody collected: what rules miss of them is nobody's fault but Olivine's own, and Watch says so. */
final readonly class Standstills
{
    /** Shorter ones, such as a part that is started again, are nobody's concern. */
    private const SHOWN_FROM_MS = 60_000;
    private const MOST_SHOWN = 20;

    public function __construct(private Database $database)
    {
    }

    /**
     * Before a collector says how far it is, in the same transaction: where nobody said so for long, rules looked by the clock.
     *
     * @param list<int> $slots of the collector
     */
    public function note(array $slots, int $nowMs): void
    {
        $this->database->connection->executeStatement(
            'INSERT INTO standstill (slot, from_at, to_at) SELECT slot, through_at, ? FROM settled WHERE part = ? AND slot IN (?) AND through_at < ?',
            [$nowMs, PartName::Collector->value, $slots, $nowMs - SettledReadings::COLLECTOR_GONE_MS],
            [ParameterType::INTEGER, ParameterType::STRING, ArrayParameterType::INTEGER, ParameterType::INTEGER],
        );
    }

    /**
     * A collector that is gone stands still until it says again how far it has come.
     *
     * @return array<int, list<array{int, int}>> slot → from and to of each
     */
    public function bySlot(Instant $now): array
    {
        $rows = $this->database->connection->fetchAllNumeric(
            'SELECT slot, from_at, to_at FROM standstill UNION ALL SELECT slot, through_at, NULL FROM settled WHERE part = ? AND through_at < ?',
            [PartName::Collector->value, $now->ms - SettledReadings::COLLECTOR_GONE_MS],
        );
        $standstills = [];
        foreach ($rows as [$slot, $from, $to]) {
            $standstills[Scalar::int($slot)][] = [Scalar::int($from), $to === null ? PHP_INT_MAX : Scalar::int($to)];
        }

        return $standstills;
    }

    /** @return list<Standstill> that were over since then and lasted longer than a part takes to be started again, the newest first */
    public function since(Instant $since): array
    {
        $rows = $this->database->connection->fetchAllNumeric(
            'SELECT MIN(from_at), to_at FROM standstill WHERE to_at > ? GROUP BY to_at HAVING to_at - MIN(from_at) >= ? ORDER BY to_at DESC LIMIT ' .
                self::MOST_SHOWN,
            [$since->ms, self::SHOWN_FROM_MS],
        );

        return array_map(static fn(array $row): Standstill => new Standstill(Scalar::instant($row[0]), Scalar::instant($row[1])), $rows);
    }

    /** As long as there are readings that a replay looks at, what was missed of them must be known. */
    public function forgetBefore(int $beforeMs): void
    {
        $this->database->connection->executeStatement('DELETE FROM standstill WHERE to_at < ?', [$beforeMs]);
    }
}

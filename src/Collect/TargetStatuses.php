<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Collect\Answer\FleetCounts;
use Olivine\App\Collect\Answer\ScrapeFault;
use Olivine\App\Collect\Answer\SilentTarget;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Time\Instant;

/** How the last scrape of each target went, and which failed: written by the collector with each batch, read by all pages. */
final readonly class TargetStatuses
{
    private const STATES_A_STATEMENT = 200;
    /** Three intervals without a scrape: on time is who was asked within them. */
    private const DUE = ':now - 3000 * t.interval_seconds';
    private const KNOWN = 'FROM target t LEFT JOIN target_status s ON s.target_id = t.id WHERE t.removed_at IS NULL';

    public function __construct(private Database $database)
    {
    }

    /** @param list<Taken> $taken within the transaction that writes their readings */
    public function keep(array $taken): void
    {
        foreach (array_chunk($taken, self::STATES_A_STATEMENT) as $chunk) {
            $this->database->connection->executeStatement(
                'INSERT INTO target_status (target_id, at, ok, ok_at, form, seconds, bytes, readings, message, refused, notice, ticks)
                 VALUES ' .
                    implode(', ', array_fill(0, count($chunk), '(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)')) .
                    // A station that was cut off brings what is older than what another one brought.
                    ' ON DUPLICATE KEY UPDATE ' . implode(', ', array_map(
                        static fn(string $column): string => "{$column} = IF(VALUES(at) >= at, VALUES({$column}), {$column})",
                        ['ok', 'form', 'seconds', 'bytes', 'readings', 'message', 'refused', 'notice'],
                    )) .
                    ', ok_at = NULLIF(GREATEST(COALESCE(ok_at, 0), COALESCE(VALUES(ok_at), 0)), 0), ticks = ' .
                    Tick::behind('VALUES(ticks)') .
                    ', at = GREATEST(at, VALUES(at))',
                array_merge(...array_map(static fn(Taken $one): array => $one->state(), $chunk)),
            );
        }
        $faults = array_filter($taken, static fn(Taken $one): bool => $one->fault !== null);
        $this->database->insertNew(
            'scrape_fault',
            ['target_id', 'at', 'message'],
            array_values(
                array_map(
                    static fn(Taken $one): array => [$one->asking->target->id(), $one->atMs, $one->message()],
                    $faults,
                ),
            ),
        );
    }

    /** @param list<int> $targets that are paused from now on: their rails end here */
    public function tickPauses(array $targets, Instant $now): void
    {
        $this->database->connection->executeStatement(
            'UPDATE target_status SET ticks = ' . Tick::behind('?') . ' WHERE target_id IN (?)',
            [Tick::Paused->at($now->ms), $targets],
            [ParameterType::STRING, ArrayParameterType::INTEGER],
        );
    }

    public function counts(Instant $now): FleetCounts
    {
        $row = $this->database->connection->fetchAssociative(
            'SELECT COUNT(*) AS known, COALESCE(SUM(t.paused), 0) AS paused,
                COALESCE(SUM(NOT t.paused AND s.ok = 1 AND s.at >= ' .
                self::DUE .
                '), 0) AS on_time,
                COALESCE(SUM(NOT t.paused AND s.at IS NULL AND t.created_at >= ' .
                self::DUE .
                '), 0) AS fresh ' .
                self::KNOWN,
            ['now' => $now->ms],
        );

        return new FleetCounts(
            known: Scalar::int($row['known'] ?? 0),
            new: Scalar::int($row['fresh'] ?? 0),
            onTime: Scalar::int($row['on_time'] ?? 0),
            paused: Scalar::int($row['paused'] ?? 0),
        );
    }

    /** @return list<SilentTarget> those that do not report, by name, with the reason */
    public function silent(Instant $now, int $most): array
    {
        return array_map(
            static fn(array $row): SilentTarget => new SilentTarget(
                id: Scalar::int($row['id']),
                name: Scalar::text($row['name']),
                message: $row['message'] === null ? null : Scalar::text($row['message']),
                okAt: $row['ok_at'] === null ? null : Scalar::int($row['ok_at']),
            ),
            $this->database->connection->fetchAllAssociative(
                'SELECT t.id, t.name, s.message, s.ok_at ' .
                    self::KNOWN .
                    ' AND NOT t.paused
                 AND (s.ok = 0 OR COALESCE(s.at, t.created_at) < ' .
                    self::DUE .
                    ") ORDER BY t.name LIMIT {$most}",
                ['now' => $now->ms],
            ),
        );
    }

    public function faultsSince(int $targetId, int $sinceMs): int
    {
        return Scalar::int(
            $this->database->connection->fetchOne('SELECT COUNT(*) FROM scrape_fault WHERE target_id = ? AND at > ?', [
                $targetId,
                $sinceMs,
            ]),
        );
    }

    /** @return list<ScrapeFault> the newest first */
    public function lastFaults(int $targetId, int $most): array
    {
        return array_map(
            static fn(array $row): ScrapeFault => new ScrapeFault(Scalar::int($row['at']), Scalar::text($row['message'])),
            $this->database->connection->fetchAllAssociative(
                "SELECT at, message FROM scrape_fault WHERE target_id = ? ORDER BY at DESC LIMIT {$most}",
                [$targetId],
            ),
        );
    }
}

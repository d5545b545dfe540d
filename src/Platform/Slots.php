<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Doctrine\DBAL\Connection;

/**
 * A copy's right to do its share of a part's work: a row for each slot with its owner, an end and a fencing number. A
 * copy takes what is free up to its fair share of the copies there are, and lets go of what is more: one alone holds
 * all 16, of two each holds 8, and when one is gone the other has all of them some seconds later.
 *
 * A holder that cannot renew stops at the end less a margin, by its own monotonic clock read before it asked; whoever
 * takes over has a higher number. One that was frozen meanwhile, and knows nothing of it, is stopped by its next
 * transaction (Database::under).
 */
final class Slots
{
    public const SECONDS = 10;
    private const MARGIN_SECONDS = 2.0;
    /** Whoever is frozen within a transaction holds its leases locked: the database ends that before anybody needs them. */
    private const FROZEN_SECONDS = 8;

    private HeldSlots $held;
    private float $heldUntil = 0.0;
    private float $renewAt = 0.0;
    private readonly string $owner;

    public function __construct(private readonly Database $database, private readonly PartName $part)
    {
        $this->owner = gethostname() . ':' . getmypid() . ':' . bin2hex(random_bytes(4));
        $this->held = HeldSlots::none($part);
        $free = array_map(
            static fn(int $slot): array => [$part->value, $slot, '', 0, '2000-01-01 00:00:00'],
            range(0, $part->slots() - 1),
        );
        $database->patiently(
            static fn() => $database->insertNew('lease', ['part', 'slot', 'owner', 'epoch', 'lease_until'], $free),
        );
        // Copies that ended without a word, long ago.
        $database->patiently(
            static fn(Connection $connection) => $connection->executeStatement(
                'DELETE FROM part_copy WHERE part = ? AND here_until < NOW(3) - INTERVAL 1 HOUR',
                [$part->value],
            ),
        );
    }

    /** Renews, takes and lets go where it is time to. */
    public function held(): HeldSlots
    {
        $now = hrtime(true) / 1e9;
        if ($now >= $this->renewAt) {
            $this->held = $this->database->patiently($this->renew(...));
            $this->renewAt = $now + self::SECONDS / 5;
            $this->heldUntil = $now + self::SECONDS - self::MARGIN_SECONDS;
        }
        if (hrtime(true) / 1e9 >= $this->heldUntil) {
            $this->held = HeldSlots::none($this->part);
        }

        return $this->held;
    }

    /**
     * Within a transaction: nobody takes any of them over until it is committed.
     *
     * @throws LeaseLost
     */
    public function confirm(): void
    {
        $slots = $this->held->numbers();
        $still = $this->database->connection->fetchFirstColumn(
            "SELECT slot FROM lease FORCE INDEX (PRIMARY)
             WHERE part = ? AND slot IN ({$this->list($slots)}) AND owner = ? LOCK IN SHARE MODE",
            [$this->part->value, $this->owner],
        );
        if ($slots === [] || count($still) < count($slots)) {
            $this->heldUntil = $this->renewAt = 0.0;

            throw new LeaseLost($this->part->value);
        }
    }

    /** Others may have them at once. */
    public function release(): void
    {
        $this->letGo($this->held->numbers());
        $this->held = HeldSlots::none($this->part);
        $this->heldUntil = 0.0;
        $this->database->connection->executeStatement('DELETE FROM part_copy WHERE part = ? AND owner = ?', [
            $this->part->value,
            $this->owner,
        ]);
    }

    private function renew(): HeldSlots
    {
        $connection = $this->database->connection;
        // Each connection anew, so that one that was lost meanwhile is not forgotten.
        $connection->executeStatement('SET SESSION idle_transaction_timeout = ' . ($this->part->mayWorkLong() ? 0 : self::FROZEN_SECONDS));
        $copies = $this->copies();
        $mine = [];
        $free = [];
        foreach (
            $connection->iterateNumeric('SELECT slot, owner, lease_until < NOW(3) FROM lease WHERE part = ? ORDER BY slot', [
                $this->part->value,
            ]) as [$slot, $owner, $isOver]
        ) {
            if ($owner === $this->owner) {
                $mine[] = Scalar::int($slot);
            } elseif (Scalar::int($isOver) === 1) {
                $free[] = Scalar::int($slot);
            }
        }
        $fair = (int) ceil($this->part->slots() / $copies);
        $this->letGo(array_slice($mine, $fair));
        $mine = array_slice($mine, 0, $fair);
        $this->take($mine, 'owner = :owner');
        // Some of them may be gone to another copy meanwhile: what counts is what stands there afterwards.
        $this->take(array_slice($free, 0, max(0, $fair - count($mine))), 'lease_until < NOW(3)');
        /** @var array<int, mixed> $epochs */
        $epochs = $connection->fetchAllKeyValue('SELECT slot, epoch FROM lease WHERE part = ? AND owner = ? ORDER BY slot', [
            $this->part->value,
            $this->owner,
        ]);

        return new HeldSlots($this->part, Scalar::ints($epochs));
    }

    /** @return positive-int how many copies there are, this one with them */
    private function copies(): int
    {
        $connection = $this->database->connection;
        $connection->executeStatement(
            'INSERT INTO part_copy (part, owner, here_until) VALUES (?, ?, NOW(3) + INTERVAL ? SECOND)
             ON DUPLICATE KEY UPDATE here_until = VALUES(here_until)',
            [$this->part->value, $this->owner, self::SECONDS],
        );
        $copies = 'SELECT COUNT(*) FROM part_copy WHERE part = ? AND here_until >= NOW(3)';

        return max(1, Scalar::int($connection->fetchOne($copies, [$this->part->value])));
    }

    /** @param list<int> $slots */
    private function take(array $slots, string $where): void
    {
        if ($slots !== []) {
            $this->database->connection->executeStatement(
                "UPDATE lease SET epoch = epoch + IF(owner = :owner, 0, 1), owner = :owner, lease_until = NOW(3) + INTERVAL :seconds SECOND
                 WHERE part = :part AND slot IN ({$this->list($slots)}) AND {$where}",
                ['owner' => $this->owner, 'seconds' => self::SECONDS, 'part' => $this->part->value],
            );
        }
    }

    /** @param list<int> $slots */
    private function letGo(array $slots): void
    {
        if ($slots !== []) {
            $this->database->connection->executeStatement(
                "UPDATE lease SET owner = '', lease_until = NOW(3) - INTERVAL 1 SECOND
                 WHERE part = ? AND slot IN ({$this->list($slots)}) AND owner = ?",
                [$this->part->value, $this->owner],
            );
        }
    }

    /** @param list<int> $slots */
    private function list(array $slots): string
    {
        return $slots === [] ? '-1' : implode(', ', $slots);
    }
}

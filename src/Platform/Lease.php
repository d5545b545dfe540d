<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/**
 * The right to do one kind of work, held for a while: one row with its owner, an end and a fencing number.
 * A holder that cannot renew stops at the end less a margin, by its own monotonic clock read before it asked;
 * whoever takes over has a higher number. One that was frozen meanwhile, and knows nothing of it, is stopped by its
 * next transaction (Database::under).
 */
final class Lease
{
    public const SECONDS = 10;
    private const MARGIN_SECONDS = 2.0;

    private float $heldUntil = 0.0;
    private float $renewAt = 0.0;
    private readonly string $owner;

    public function __construct(private readonly Database $database, private readonly string $name)
    {
        $this->owner = gethostname() . ':' . getmypid() . ':' . bin2hex(random_bytes(4));
        $database->patiently(
            fn() => $database->insertNew(
                'lease',
                ['name', 'owner', 'epoch', 'lease_until'],
                [[$name, '', 0, '2000-01-01 00:00:00']],
            ),
        );
    }

    /** Takes or renews the lease where it is time to. */
    public function held(): bool
    {
        $now = hrtime(true) / 1e9;
        if ($now >= $this->renewAt) {
            $changed = (int) $this->database->patiently(
                fn() => $this->database->connection->executeStatement(
                    'UPDATE lease SET epoch = epoch + IF(owner = :owner, 0, 1), owner = :owner, lease_until = NOW(3) + INTERVAL :seconds SECOND
                 WHERE name = :name AND (owner = :owner OR lease_until < NOW(3))',
                    ['owner' => $this->owner, 'seconds' => self::SECONDS, 'name' => $this->name],
                ),
            );
            $this->renewAt = $now + self::SECONDS / 5;
            if ($changed > 0) {
                $this->heldUntil = $now + self::SECONDS - self::MARGIN_SECONDS;
            }
        }

        return hrtime(true) / 1e9 < $this->heldUntil;
    }

    /**
     * Within a transaction: nobody takes the lease over until it is committed.
     *
     * @throws LeaseLost
     */
    public function confirm(): void
    {
        if (
            $this->database->connection->fetchOne('SELECT 1 FROM lease WHERE name = ? AND owner = ? LOCK IN SHARE MODE', [
                $this->name,
                $this->owner,
            ]) === false
        ) {
            $this->heldUntil = 0.0;

            throw new LeaseLost($this->name);
        }
    }

    public function release(): void
    {
        $this->heldUntil = 0.0;
        $this->database->connection->executeStatement('UPDATE lease SET lease_until = NOW(3) WHERE name = ? AND owner = ?', [
            $this->name,
            $this->owner,
        ]);
    }
}

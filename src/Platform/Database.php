<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\ConnectionException;
use Doctrine\DBAL\Exception\ConnectionLost;
use Doctrine\DBAL\Exception\DriverException;
use Doctrine\DBAL\Exception\RetryableException;
use Doctrine\DBAL\Exception\UniqueConstraintViolationException;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;

/**
 * Runs a transaction, and again where the server says to: deadlocks, lock waits, a node that cannot serve, a
 * server that restarts. The work must be safe to run twice (natural keys; "already there" is no error).
 */
final class Database
{
    /** ER_TABLE_DEF_CHANGED: a partition was packed tight since the transaction began, and cannot show what it held then. */
    public const HAS_NO_PAST = 1412;
    private const RETRY_CODES = [1047, 1180, 1205, 1213, 1053, self::HAS_NO_PAST, 1927, 2002, 2003, 2006, 2013, 4031];
    private const PATIENCE_SECONDS = 30.0;

    private ?Slots $slots = null;

    /** @param ManagerRegistry|null $managers of the entities that take part in its transactions */
    public function __construct(public readonly Connection $connection, private readonly ?ManagerRegistry $managers = null)
    {
    }

    /** From now on each transaction begins by making sure that these slots are still held, and holds them until it is over. */
    public function under(Slots $slots): void
    {
        $this->slots = $slots;
    }

    /**
     * @template T
     *
     * @param callable(Connection): T $work
     *
     * @return T
     *
     * @throws LeaseLost  where another has taken over what it is under
     * @throws \Throwable what the work throws
     */
    public function transaction(callable $work): mixed
    {
        return $this->patiently(
            fn(): mixed => $this->connection->transactional(function (Connection $connection) use ($work): mixed {
                $this->slots?->confirm();

                return $work($connection);
            }),
        );
    }

    /**
     * Reads that all see the same instant; read anew where the server says that it has no such past.
     *
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     */
    public function snapshot(callable $work): mixed
    {
        return $this->patiently(fn(): mixed => $this->connection->transactional(static fn(): mixed => $work()));
    }

    /**
     * @template T
     *
     * @param callable(Connection): T $work
     *
     * @return T
     */
    public function patiently(callable $work): mixed
    {
        $giveUp = microtime(true) + self::PATIENCE_SECONDS;
        for ($pause = 20_000; ; $pause = min(1_000_000, $pause * 2)) {
            try {
                return $work($this->connection);
            } catch (\Throwable $error) {
                if (!self::mayPass($error) || microtime(true) > $giveUp) {
                    throw $error;
                }
                $this->connection->close();
                $this->forgetEntities();
                usleep($pause + random_int(0, $pause));
            }
        }
    }

    /** After work that failed for good: no transaction is left open, no entity as it was in between. */
    public function recover(): void
    {
        while ($this->connection->isTransactionActive()) {
            $this->connection->rollBack();
        }
        $this->forgetEntities();
    }

    /** A flush that failed closes its manager, and what was loaded or made in a transaction that was taken back is not so. */
    private function forgetEntities(): void
    {
        foreach ($this->managers?->getManagers() ?? [] as $name => $manager) {
            $manager instanceof EntityManagerInterface && !$manager->isOpen()
                ? $this->managers?->resetManager($name)
                : $manager->clear();
        }
    }

    public static function mayPass(\Throwable $error): bool
    {
        // Who was in the middle of a part of it hears first that the part is gone.
        return self::passes($error) || ($error->getPrevious() !== null && self::mayPass($error->getPrevious()));
    }

    /**
     * Whether it may go otherwise when done anew: the server took all of it back, since it and another transaction waited for each
     * other, or somebody made the same thing in the same moment, which is there to be seen by now.
     */
    public static function metAnother(\Throwable $error): bool
    {
        return $error instanceof RetryableException
            || $error instanceof UniqueConstraintViolationException
            || ($error->getPrevious() !== null && self::metAnother($error->getPrevious()));
    }

    private static function passes(\Throwable $error): bool
    {
        if ($error instanceof RetryableException || $error instanceof ConnectionException || $error instanceof ConnectionLost) {
            return true;
        }
        if ($error instanceof DriverException && in_array($error->getCode(), self::RETRY_CODES, true)) {
            return true;
        }
        if ($error instanceof \Doctrine\DBAL\Driver\Exception && in_array($error->getCode(), self::RETRY_CODES, true)) {
            return true;
        }
        if ($error instanceof \PDOException && in_array($error->errorInfo[1] ?? 0, self::RETRY_CODES, true)) {
            return true;
        }

        return preg_match(
            '~gone away|Lost connection|Connection refused|no active transaction|server has~i',
            $error->getMessage(),
        ) === 1;
    }

    /**
     * Many rows in one statement; rows already there by their key stay as they are.
     *
     * @param list<string>                      $columns
     * @param list<list<int|float|string|null>> $rows
     */
    public function insertNew(string $table, array $columns, array $rows): void
    {
        $this->insertMany('INSERT IGNORE', $table, $columns, $rows, '');
    }

    /**
     * @param list<string>                      $columns
     * @param list<list<int|float|string|null>> $rows
     */
    public function upsert(string $table, array $columns, array $rows): void
    {
        $this->insertMany(
            'INSERT',
            $table,
            $columns,
            $rows,
            ' ON DUPLICATE KEY UPDATE ' .
                implode(', ', array_map(static fn(string $column): string => "{$column} = VALUES({$column})", $columns)),
        );
    }

    /**
     * @param list<string>                      $columns
     * @param list<list<int|float|string|null>> $rows
     */
    private function insertMany(string $verb, string $table, array $columns, array $rows, string $tail): void
    {
        if ($rows === []) {
            return;
        }
        $marks = '(' . implode(', ', array_fill(0, count($columns), '?')) . ')';
        foreach (array_chunk($rows, max(1, intdiv(20_000, count($columns)))) as $chunk) {
            $this->connection->executeStatement(
                "{$verb} INTO {$table} (" .
                    implode(', ', $columns) .
                    ') VALUES ' .
                    implode(', ', array_fill(0, count($chunk), $marks)) .
                    $tail,
                array_merge(...$chunk),
            );
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\RetryableException;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Lease;
use Olivine\App\Platform\LeaseLost;
use PHPUnit\Framework\TestCase;

final class LeaseTest extends TestCase
{
    public function testOnlyOneHoldsALeaseAndATakeoverRaisesTheFencingNumber(): void
    {
        $database = Instance::emptyDatabase('lease');
        $other = new Database(Instance::connect());
        $other->connection->executeStatement('USE olivine_lease');
        $first = new Lease($database, 'collector');
        $second = new Lease($other, 'collector');
        self::assertTrue($first->held());
        self::assertFalse($second->held());
        self::assertTrue($first->held());
        $epoch = (int) $database->connection->fetchOne('SELECT epoch FROM lease');
        $first->release();
        self::assertSame(1, (int) $database->connection->fetchOne('SELECT lease_until <= NOW(3) FROM lease'), 'let go at once');
        // The first one let go: whoever asks next after the end of its pause gets it, under a higher number.
        $database->connection->executeStatement('UPDATE lease SET lease_until = NOW(3) - INTERVAL 1 SECOND');
        $third = new Lease($other, 'collector');
        self::assertTrue($third->held());
        self::assertSame($epoch + 1, (int) $database->connection->fetchOne('SELECT epoch FROM lease'));
        self::assertTrue((new Lease($other, 'evaluator'))->held(), 'another name is another lease');
    }

    public function testWhoeverLostItsLeaseWritesNothingAndWhoeverWritesKeepsIt(): void
    {
        $database = Instance::emptyDatabase('lease');
        $other = new Database(Instance::connect());
        $other->connection->executeStatement('USE olivine_lease');
        $written = static fn(): int => (int) $other->connection->fetchOne('SELECT COUNT(*) FROM setting');
        $write = static fn(string $name): \Closure => static function (Connection $connection) use ($name): void {
            $connection->insert('setting', ['name' => $name, 'value' => '1']);
        };
        $before = $written();
        $database->under($first = new Lease($database, 'keeper'));
        $second = new Lease($other, 'keeper');
        self::assertTrue($first->held());
        $database->transaction($write('while it holds the lease'));
        self::assertSame($before + 1, $written());

        // Its lease runs out while it writes: who wants it waits until that is committed.
        $other->connection->executeStatement('SET innodb_lock_wait_timeout = 1');
        $database->transaction(function (Connection $connection) use ($write, $database, $other): void {
            $write('while the lease runs out')($connection);
            try {
                $other->connection->executeStatement("UPDATE lease SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE name = 'keeper'");
                self::fail('It was taken from under a transaction');
            } catch (RetryableException) {
                self::assertTrue($database->connection->isTransactionActive());
            }
        });
        self::assertSame($before + 2, $written());

        // Frozen for long, it still thinks it holds what another has by now.
        $other->connection->executeStatement("UPDATE lease SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE name = 'keeper'");
        self::assertTrue($second->held());
        self::assertTrue($first->held(), 'by its own clock');
        try {
            $database->transaction($write('after another took over'));
            self::fail('It wrote');
        } catch (LeaseLost $lost) {
            self::assertStringContainsString('keeper', $lost->getMessage());
        }
        self::assertSame($before + 2, $written());
        self::assertFalse($first->held(), 'and now it knows');
    }
}

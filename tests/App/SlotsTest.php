<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\RetryableException;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\PartReports;
use Olivine\App\Platform\Slots;
use PHPUnit\Framework\TestCase;

final class SlotsTest extends TestCase
{
    private const SLOTS = 16;

    public function testCopiesShareTheSlotsFairlyAndTakeOverWhatAnotherLeaves(): void
    {
        $database = Instance::emptyDatabase('slots');
        $first = new Slots($database, PartName::Collector);
        self::assertSame(range(0, self::SLOTS - 1), $first->held()->numbers(), 'one alone holds all of them');
        $second = new Slots(self::beside(), PartName::Collector);
        self::assertTrue($second->held()->isNone(), 'nothing is taken away: it waits until the first one lets go');
        $epochs = $first->held()->epochs;
        self::assertCount(1, (new Slots(self::beside(), PartName::Keeper))->held()->numbers(), 'another part is another matter');

        self::untilRenewed();
        self::assertSame(range(0, 7), $first->held()->numbers(), 'half is enough now');
        self::assertSame(array_slice($epochs, 0, 8, true), $first->held()->epochs, 'what stays with it stays the same');
        self::assertSame(range(8, 15), $second->held()->numbers());
        foreach ($second->held()->epochs as $slot => $epoch) {
            self::assertSame($epochs[$slot] + 1, $epoch, 'a takeover raises the fencing number');
        }

        self::assertSame(['collector' => 2, 'keeper' => 1], (new PartReports($database))->copies());

        $third = new Slots(self::beside(), PartName::Collector);
        $third->held();
        self::untilRenewed();
        $shares = [$first->held()->numbers(), $second->held()->numbers(), $third->held()->numbers()];
        self::assertSame([6, 6, 4], array_map(count(...), $shares));
        self::assertSame(range(0, self::SLOTS - 1), self::sorted(array_merge(...$shares)), 'each slot has one holder');

        // One goes in order, another without a word: what it held is free when its leases end, 10 s later at most.
        $first->release();
        self::untilRenewed();
        $lastSeen = microtime(true);
        self::assertSame([8, 8], [count($second->held()->numbers()), count($third->held()->numbers())]);
        Instance::eventually(static fn(): bool => count($third->held()->numbers()) === self::SLOTS, 15, 'it takes over');
        self::assertGreaterThan(Slots::SECONDS - 3, microtime(true) - $lastSeen);
    }

    /** It made sure of its slots within a transaction, and stopped there: the locks that it holds end before its leases do. */
    public function testOneThatIsFrozenWithinATransactionHoldsNobodyUp(): void
    {
        $database = Instance::emptyDatabase('slots');
        $frozen = new Slots($database, PartName::Collector);
        $frozen->held();
        $other = new Slots(self::beside(), PartName::Collector);
        self::assertTrue($other->held()->isNone());
        $database->connection->beginTransaction();
        $frozen->confirm();
        $began = microtime(true);
        Instance::eventually(static fn(): bool => count($other->held()->numbers()) === self::SLOTS, 20, 'it takes over');
        self::assertLessThan(15, microtime(true) - $began);
        $database->connection->close();
    }

    /**
     * @param list<int> $numbers
     *
     * @return list<int>
     */
    private static function sorted(array $numbers): array
    {
        sort($numbers);

        return $numbers;
    }

    private static function beside(): Database
    {
        $other = new Database(Instance::connect());
        $other->connection->executeStatement('USE olivine_slots');

        return $other;
    }

    private static function untilRenewed(): void
    {
        usleep(2_100_000);
    }

    public function testWhoeverLostItsLeaseWritesNothingAndWhoeverWritesKeepsIt(): void
    {
        $database = Instance::emptyDatabase('slots');
        $other = self::beside();
        $written = static fn(): int => (int) $other->connection->fetchOne('SELECT COUNT(*) FROM setting');
        $write = static fn(string $name): \Closure => static function (Connection $connection) use ($name): void {
            $connection->insert('setting', ['name' => $name, 'value' => '1']);
        };
        $before = $written();
        $database->under($first = new Slots($database, PartName::Keeper));
        $second = new Slots($other, PartName::Keeper);
        self::assertTrue($first->held()->hasFirst());
        $database->transaction($write('while it holds the lease'));
        self::assertSame($before + 1, $written());

        // Its lease runs out while it writes: who wants it waits until that is committed.
        $other->connection->executeStatement('SET innodb_lock_wait_timeout = 1');
        $database->transaction(function (Connection $connection) use ($write, $database, $other): void {
            $write('while the lease runs out')($connection);
            try {
                $other->connection->executeStatement("UPDATE lease SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE part = 'keeper'");
                self::fail('It was taken from under a transaction');
            } catch (RetryableException) {
                self::assertTrue($database->connection->isTransactionActive());
            }
        });
        self::assertSame($before + 2, $written());

        // Made sure of just now, and then frozen for long, it still thinks it holds what another has by now.
        self::untilRenewed();
        self::assertTrue($first->held()->hasFirst());
        $other->connection->executeStatement("UPDATE lease SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE part = 'keeper'");
        self::assertTrue($second->held()->hasFirst());
        self::assertTrue($first->held()->hasFirst(), 'by its own clock');
        try {
            $database->transaction($write('after another took over'));
            self::fail('It wrote');
        } catch (LeaseLost $lost) {
            self::assertStringContainsString('keeper', $lost->getMessage());
        }
        self::assertSame($before + 2, $written());
        self::assertTrue($first->held()->isNone(), 'and now it knows');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Lease;
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
}

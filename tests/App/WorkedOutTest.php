<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\WorkedOut;
use Olivine\Core\Time\Duration;
use PHPUnit\Framework\TestCase;
use Psr\Log\NullLogger;

/** Answers that are worked out beforehand: renewed when due, kept when they fail, worked out by the reader when nobody renews. */
final class WorkedOutTest extends TestCase
{
    public function testOneThatFailsKeepsItsLastAnswerAndHoldsUpNoOther(): void
    {
        $database = Instance::emptyDatabase('worked_out');
        $good = new PlainAnswer('good', 10_000);
        $weak = new PlainAnswer('weak', 10_000);
        $answers = new WorkedOut($database, new NullLogger(), [$weak, $good]);
        $now = (new Clock())->now();

        $answers->renewDue($now);
        self::assertSame([['turn' => 1], ['turn' => 1]], [$answers->of('weak'), $answers->of('good')]);
        $answers->renewDue($now->plus(Duration::ofSeconds(9)));
        self::assertSame(['turn' => 1], $answers->of('good'), 'not due yet');
        $weak->fails = true;
        $answers->renewDue($now->plus(Duration::ofSeconds(11)));
        self::assertSame([['turn' => 1], ['turn' => 2]], [$answers->of('weak'), $answers->of('good')]);
        $answers->renewDue($now->plus(Duration::ofSeconds(12)));
        self::assertSame(2, $weak->asked, 'one that failed waits for its next turn');
        $weak->fails = false;
        $answers->renewDue($now->plus(Duration::ofSeconds(30)));
        self::assertSame(['turn' => 3], $answers->of('weak'));
    }

    public function testWithoutAnybodyWhoRenewsTheReaderWorksItOut(): void
    {
        $database = Instance::emptyDatabase('worked_out');
        $slow = new PlainAnswer('slow', 1_000);
        $answers = new WorkedOut($database, new NullLogger(), [$slow]);
        self::assertSame(['turn' => 1], $answers->of('slow'), 'the first who asks');
        self::assertSame(['turn' => 1], $answers->of('slow'), 'the second finds it');
        $database->connection->executeStatement('UPDATE worked_out SET at = at - 6000');
        self::assertSame(['turn' => 2], $answers->of('slow'), 'too old to be shown');
        $this->expectException(\LogicException::class);
        $answers->of('unheard of');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\SetAside;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Clock\MockClock;

/** Time is what the application is given. */
final class ClockTest extends TestCase
{
    public function testNowIsTheMillisecondOfTheClockInAnyZone(): void
    {
        foreach (['UTC', 'Asia/Kolkata', 'America/St_Johns'] as $zone) {
            $clock = new Clock(new MockClock(new \DateTimeImmutable('2026-11-27 03:12:00.417+00:00'), $zone));
            self::assertSame(1_795_749_120_417, $clock->now()->ms, $zone);
        }
        self::assertEqualsWithDelta(microtime(true) * 1000, (new Clock())->now()->ms, 2_000);
    }

    public function testAPartSeesOnlyTheTimeItIsGiven(): void
    {
        $clock = new MockClock('2026-11-27 03:12:00');
        $aside = new SetAside(Instance::emptyDatabase('clock'), new Clock($clock));
        $fails = static fn(): never => throw new \RuntimeException('the pier is closed');
        $aside->unless('dispatcher', 'a mail', $fails);
        $clock->sleep(7_200);
        $aside->unless('dispatcher', 'a mail', $fails);
        [$item] = $aside->now();
        self::assertSame([2, 7_200_000], [$item->times, $item->at - $item->firstAt]);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Delivery\Rung;
use Olivine\Core\Roster\Rotation;
use PHPUnit\Framework\TestCase;

final class WhoHearsTest extends TestCase
{
    public function testTheLadderClimbsUntilSomeoneHasIt(): void
    {
        $ladder = new Ladder(10_000, 900_000);
        $due = static fn(?int $inHand, int $now): array => array_map(static fn(Rung $rung): int => $rung->number, $ladder->due(0, $inHand, $now));
        self::assertSame([], $due(null, 9_999));
        self::assertSame([1], $due(null, 10_000));
        self::assertSame([1, 2], $due(null, 910_000));
        self::assertSame([1], $due(500_000, 2_000_000), 'acknowledged before the second rung');
        self::assertSame([], $due(5_000, 2_000_000), 'resolved while it still gathered');
        self::assertSame(Listener::NextOnRoster, $ladder->rungs(0)[1]->listener);
    }

    public function testEveryInstantHasExactlyOnePersonAlsoOverClockChanges(): void
    {
        $zone = new \DateTimeZone('Europe/Lisbon');
        $rotation = new Rotation([7, 8, 9], [6, 18], '2026-01-05', $zone);
        $from = strtotime('2026-03-20 00:00 UTC') * 1000;
        $shifts = $rotation->between($from, $from + 230 * 86_400_000);
        foreach ($shifts as $i => $shift) {
            $next = $shifts[$i + 1] ?? null;
            if ($next !== null) {
                self::assertSame($shift->endMs, $next->startMs, 'no gap and no overlap');
                self::assertSame($shift->nextPerson, $next->person);
            }
            self::assertContains((new \DateTimeImmutable('@' . $shift->startMs / 1000))->setTimezone($zone)->format('H:i'), ['06:00', '18:00']);
            self::assertSame($shift->person, $rotation->at($shift->startMs)->person);
            self::assertSame($shift->person, $rotation->at($shift->endMs - 1)->person);
        }
        $lengths = array_unique(array_map(static fn($shift): int => intdiv($shift->endMs - $shift->startMs, 3_600_000), $shifts));
        sort($lengths);
        self::assertSame([11, 12, 13], $lengths, 'the nights of the clock changes are an hour shorter and longer');
    }
}

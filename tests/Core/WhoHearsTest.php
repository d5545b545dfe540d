<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Roster\Rotation;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

final class WhoHearsTest extends TestCase
{
    public function testAnyPieceOfTheRosterHoldsTheShiftsThatTouchIt(): void
    {
        mt_srand(19);
        $from = strtotime('2026-03-20 00:00 UTC') * 1000;
        foreach (['Europe/Lisbon', 'Pacific/Auckland', 'America/Bogota', 'Asia/Kolkata'] as $zone) {
            $rotation = new Rotation([3, 5], [0, 8, 16], '2026-01-01', new \DateTimeZone($zone));
            $all = $rotation->between(Instant::ofMs($from), Instant::ofMs($from + 60 * 86_400_000));
            for ($i = 0; $i < 60; ++$i) {
                $a = $from + mt_rand(0, 50 * 86_400) * 1000;
                $b = $a + mt_rand(1, 5 * 86_400) * 1000;
                self::assertEquals(
                    array_values(array_filter($all, static fn($shift): bool => $shift->end->ms > $a && $shift->start->ms < $b)),
                    $rotation->between(Instant::ofMs($a), Instant::ofMs($b)),
                );
            }
            foreach (array_slice($all, 0, 20) as $shift) {
                self::assertEquals(
                    [$shift],
                    $rotation->between(Instant::ofMs($shift->start->ms), Instant::ofMs($shift->end->ms)),
                    'a shift begins with its first instant and ends before its last',
                );
            }
        }
        self::assertSame(
            3,
            (new Rotation([3, 5], [6], '2026-01-01', new \DateTimeZone('UTC')))->at(Instant::ofMs(strtotime('2026-01-01 06:00 UTC') * 1000))->person,
            'the first change begins with the first person',
        );
        self::assertSame(
            5,
            (new Rotation([3, 5], [6], '2026-01-01', new \DateTimeZone('UTC')))->at(Instant::ofMs(strtotime('2026-01-01 05:59:59 UTC') * 1000))->person,
            'and the rota runs backwards too',
        );
    }

    public function testEveryInstantHasExactlyOnePersonAlsoOverClockChanges(): void
    {
        $zone = new \DateTimeZone('Europe/Lisbon');
        $rotation = new Rotation([7, 8, 9], [6, 18], '2026-01-05', $zone);
        $from = strtotime('2026-03-20 00:00 UTC') * 1000;
        $shifts = $rotation->between(Instant::ofMs($from), Instant::ofMs($from + 230 * 86_400_000));
        foreach ($shifts as $i => $shift) {
            $next = $shifts[$i + 1] ?? null;
            if ($next !== null) {
                self::assertSame($shift->end->ms, $next->start->ms, 'no gap and no overlap');
                self::assertSame($shift->nextPerson, $next->person);
            }
            self::assertContains((new \DateTimeImmutable('@' . $shift->start->ms / 1000))->setTimezone($zone)->format('H:i'), ['06:00', '18:00']);
            self::assertSame($shift->person, $rotation->at(Instant::ofMs($shift->start->ms))->person);
            self::assertSame($shift->person, $rotation->at(Instant::ofMs($shift->end->ms - 1))->person);
        }
        $lengths = array_unique(array_map(static fn($shift): int => intdiv($shift->end->ms - $shift->start->ms, 3_600_000), $shifts));
        sort($lengths);
        self::assertSame([11, 12, 13], $lengths, 'the nights of the clock changes are an hour shorter and longer');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Check\Availability;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** In how many minutes a service was there, worked out by hand. */
final class AvailabilityTest extends TestCase
{
    private const MINUTE = 60_000;

    /**
     * What each place saw, a sign each quarter of a minute; what of it was slow; seconds between two askings; minutes, available, unknown, slow.
     *
     * @return iterable<string, array{list<string>, list<string>, int, array{int, int, int, int}}>
     */
    public static function days(): iterable
    {
        $day = ['++++', '++++', '++++'];
        yield 'always there' => [[implode($day)], [], 15, [3, 3, 0, 0]];
        yield 'down for a minute' => [['++++----++++'], [], 15, [3, 2, 0, 0]];
        yield 'down in half of a minute is not more than half' => [['++++--++++++'], [], 15, [3, 2, 0, 0]];
        yield 'down in a quarter of a minute' => [['++++-+++++++'], [], 15, [3, 3, 0, 0]];
        yield 'one of three places does not see it' => [['++++++++++++', '++++----++++', '++++++++++++'], [], 15, [3, 3, 0, 0]];
        yield 'two of three do not' => [['++++++++++++', '++++----++++', '++++----++++'], [], 15, [3, 2, 0, 0]];
        yield 'one is cut off, one sees it, one does not' => [['++++++++++++', '++++----++++', '++++....++++'], [], 15, [3, 2, 0, 0]];
        yield 'nobody knows' => [['++++................++++'], [], 15, [6, 2, 4, 0]];
        yield 'asked each two minutes, it counts until it is asked again' => [['+.......+.......-.......'], [], 120, [6, 4, 0, 0]];
        yield 'and for three intervals, no longer' => [['+...............................'], [], 60, [8, 4, 4, 0]];
        yield 'slow where it was there' => [['++++++++----'], ['++++----++++'], 15, [3, 2, 0, 1]];
        yield 'slow for one of two' => [['++++++++++++', '++++++++++++'], ['++++++++++++', '------------'], 15, [3, 3, 0, 0]];
        yield 'nothing at all' => [[], [], 15, [0, 0, 0, 0]];
    }

    /**
     * @param list<string>              $seen
     * @param list<string>              $slow
     * @param array{int, int, int, int} $figures minutes, available, unknown, slow
     */
    #[DataProvider('days')]
    public function testMinutes(array $seen, array $slow, int $intervalSeconds, array $figures): void
    {
        $from = 29_931_000 * self::MINUTE;
        $to = $from + self::MINUTE * intdiv(strlen($seen[0] ?? ''), 4);
        $found = Availability::of(self::places($seen, $from), self::places($slow, $from), $from, $to, 1000 * $intervalSeconds);
        self::assertSame($figures, [$found->minutes, $found->available, $found->unknown, $found->slow]);
    }

    public function testAHalfMinuteAtEitherEndIsLeftOut(): void
    {
        $from = 29_931_000 * self::MINUTE;
        $readings = array_fill_keys(range($from, $from + 5 * self::MINUTE, 5_000), 1.0);
        $found = Availability::of([$readings], [], $from + 1, $from + 4 * self::MINUTE + 1, 5_000);
        self::assertSame([3, 3, 1.0], [$found->minutes, $found->available, $found->share()]);
        self::assertNull(Availability::of([], [], $from, $from + self::MINUTE, 5_000)->share());
    }

    /**
     * @param list<string> $lines
     *
     * @return list<array<int, float>> of each place: time → 1 or 0
     */
    private static function places(array $lines, int $from): array
    {
        $places = [];
        foreach ($lines as $line) {
            $readings = [];
            foreach (str_split($line) as $i => $sign) {
                if ($sign !== '.') {
                    $readings[$from + $i * 15_000 + 2_000] = $sign === '+' ? 1.0 : 0.0;
                }
            }
            $places[] = $readings;
        }

        return $places;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\WorkTime;
use Olivine\Core\Formula\TookTooLong;
use PHPUnit\Framework\TestCase;

/** A busy machine refuses nothing that an idle one answers; what works for too long ends, and so does what hangs. */
final class WorkTimeTest extends TestCase
{
    public function testCountsTheTimeThatItWorked(): void
    {
        $time = new WorkTime();
        $time->begin(0.3);
        usleep(400_000);
        $time->goOn();
        $worked = self::untilItEnds($time, static fn() => array_sum(range(1, 1_000)));
        self::assertGreaterThan(0.2, $worked, 'waiting was not counted');
    }

    public function testWhatHangsEndsByTheClock(): void
    {
        $time = new WorkTime();
        $time->begin(0.3);
        $began = microtime(true);
        $worked = self::untilItEnds($time, static fn() => usleep(30_000));
        self::assertGreaterThan(0.85, microtime(true) - $began, 'three times as long by the clock');
        self::assertLessThan(0.3, $worked);
        // What ended is over: the next piece has its own time, and without one all there is.
        $time->goOn();
        $time->begin(60.0);
        $time->goOn();
        $time->end();
    }

    /** @return float seconds of work until then */
    private static function untilItEnds(WorkTime $time, callable $work): float
    {
        $used = static function (): float {
            $of = (array) getrusage();

            return $of['ru_utime.tv_sec'] + $of['ru_stime.tv_sec'] + ($of['ru_utime.tv_usec'] + $of['ru_stime.tv_usec']) / 1e6;
        };
        $before = $used();
        try {
            for (;;) {
                $work();
                $time->goOn();
            }
        } catch (TookTooLong $error) {
            self::assertSame('This took longer than the 0.3 s that it may; ask for less at once, with where or a shorter span', $error->getMessage());

            return $used() - $before;
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\ReadOnce;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

final class ReadOnceTest extends TestCase
{
    public function testWhatIsAtHandIsWhatWouldBeRead(): void
    {
        $readings = new Readings();
        $random = new Randomizer(new Mt19937(31));
        foreach (['web-1', 'web-2', 'web-3'] as $host) {
            $values = [];
            for ($at = $random->getInt(0, 90_000); $at < 3_600_000; $at += $random->getInt(1, 60_000)) {
                $values[$at] = $random->getInt(0, 9) === 0 ? null : (float) $random->getInt(0, 100);
            }
            $readings->withMilliseconds('load', ['host' => $host], $values);
        }
        $what = Parser::parse('load');
        self::assertInstanceOf(Select::class, $what);
        $once = new ReadOnce($readings);
        for ($i = 0; $i < 1_000; ++$i) {
            $after = $random->getInt(-60_000, 3_600_000);
            $through = $after + $random->getInt(0, 900_000);
            self::assertEquals($readings->windows($what, $after, $through), $once->windows($what, $after, $through), "{$after} to {$through}");
            if ($random->getInt(0, 20) === 0) {
                $once->forget($what);
            }
        }
    }

    /** The bounds: after is not in it, through is. */
    public function testAPartBeginsAfterItsBeginAndEndsWithItsEnd(): void
    {
        $what = Parser::parse('load');
        $readings = (new Readings())->with('load', [], [1 => 1.0, 2 => 2.0, 3 => 3.0]);
        self::assertInstanceOf(Select::class, $what);
        $whole = $readings->windows($what, 0, 5_000)[0];
        self::assertSame([2_000, 3_000], $whole->within(1_000, 3_000)?->times);
        self::assertSame([1_000, 2_000], $whole->within(999, 2_999)?->times);
        self::assertNull($whole->within(1_000, 1_999));
        self::assertNull($whole->within(3_000, 9_000));
        self::assertSame($whole, $whole->within(0, 3_000));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Machines;
use Olivine\App\Collect\Scrape;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

/** A program that does not answer on a machine that does. */
final class MachinesTest extends TestCase
{
    private const REFUSED = 'Nothing listens at this address: connection refused';

    public function testAProgramThatIsGoneIsToldFromItsMachine(): void
    {
        $machines = new Machines();
        $first = self::scrape();
        $machines->follow($first);
        self::assertNull($first->machineAnswers);
        self::assertSame(self::REFUSED, $first->fault, 'nothing is known yet, and nobody waits for it');
        $told = static function () use ($machines): string {
            $machines->advance();
            $next = self::scrape();
            $machines->follow($next);

            return (string) $next->fault;
        };
        Instance::eventually(static fn(): bool => str_contains($told(), 'the machine itself answers echoes'), 10, 'the next fault says it');
        self::assertSame(self::REFUSED . '; the machine itself answers echoes, so what is missing is the program', $told());

        $heard = self::scrape();
        $heard->wasHeard = true;
        $nameless = self::scrape('');
        $well = new Scrape($heard->target);
        $well->ip = '127.0.0.1';
        foreach ([$heard, $nameless, $well] as $scrape) {
            $before = $scrape->fault;
            $machines->follow($scrape);
            self::assertSame($before, $scrape->fault, 'of it there is nothing to say');
        }
        $machines->abandon();
    }

    /** Where a thousand machines are gone at once, a few are looked for at a time, and no fault waits for it. */
    public function testManyAtOnceHoldNothingUp(): void
    {
        $machines = new Machines();
        $from = microtime(true);
        for ($i = 0; $i < 1_000; ++$i) {
            $scrape = self::scrape('127.1.' . intdiv($i, 250) . '.' . (1 + $i % 250));
            $machines->follow($scrape);
            self::assertSame(self::REFUSED, $scrape->fault);
        }
        $children = static fn(): int => substr_count((string) shell_exec('ps --ppid ' . getmypid() . ' -o comm='), 'ping');
        self::assertLessThanOrEqual(10, $children());
        self::assertLessThan(5.0, microtime(true) - $from);
        $machines->abandon();
        self::assertSame(0, $children(), 'none is left behind');
    }

    private static function scrape(string $ip = '127.0.0.1'): Scrape
    {
        $scrape = new Scrape(new Target('agent of gate-e1', 'http://127.0.0.1:9/', Instant::ofMs(0)));
        $scrape->ip = $ip;
        $scrape->fail(self::REFUSED);

        return $scrape;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Check\Way;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** The way to a host, as a program found it. */
final class WayTest extends TestCase
{
    private const SAID = <<<'TEXT'
        traceroute to 203.0.113.7 (203.0.113.7), 20 hops max, 60 byte packets
         1  192.0.2.1  0.521 ms  0.470 ms  0.509 ms
         2  * * *
         3  2001:db8::7  1.5 ms * 198.51.100.9  2.5 ms
         4  203.0.113.1  3 ms !H  4 ms !H *
         5  * * *
         6  * * *

        TEXT;

    public function testIsToldHopByHop(): void
    {
        self::assertSame(
            " 1  192.0.2.1  0.5 ms\n 2  nobody answered\n 3  2001:db8::7  2 ms, 1 of 3 lost\n 4  203.0.113.1  3.5 ms, 1 of 3 lost\n" .
                'from hop 5 on nobody answered',
            Way::of(self::SAID)->words(),
        );
        self::assertSame('', Way::of('')->words());
        self::assertSame('from hop 1 on nobody answered', Way::of(" 1  * * *\n 2  * * *\n")->words());
    }

    public function testWhateverAProgramSaysIsAWay(): void
    {
        $random = new Randomizer(new Mt19937(31));
        for ($i = 0; $i < 500; ++$i) {
            $said = self::SAID;
            for ($change = 5; $change > 0; --$change) {
                $at = $random->getInt(0, strlen($said) - 1);
                $said = substr($said, 0, $at) . $random->getBytes(1) . substr($said, $at + $random->getInt(0, 3));
            }
            foreach (Way::of($said)->hops as $hop) {
                self::assertGreaterThanOrEqual(0, $hop->asked - $hop->lost);
            }
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** Last of all: whatever these tests broke, stopped and mended, replaying what was read gives exactly what every rule recorded as it looked. */
final class YesterdayAgainTest extends TestCase
{
    private const KINDS = ['Boarding queue', 'Web server unlike its twins', 'Disk', 'Memory of gates', 'Gate', 'Hot web server that its twins are not'];

    public function testAReplayGivesWhatWasRecorded(): void
    {
        $command = new Process([PHP_BINARY, 'bin/console', 'olivine:rules:agree'], dirname(__DIR__, 2), null, null, 300.0);
        $command->run();
        $said = $command->getOutput() . $command->getErrorOutput();
        self::assertSame(0, $command->getExitCode(), $said);
        foreach (self::KINDS as $rule) {
            self::assertMatchesRegularExpression("~^{$rule}: agrees on \\d+ moves$~m", $said);
        }
        preg_match_all('~agrees on (\d+) moves~', $said, $moves);
        self::assertGreaterThan(20, array_sum(array_map(intval(...), $moves[1])), 'there is something to compare');
    }
}

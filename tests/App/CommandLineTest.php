<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Process\Process;

/** What the commands say when something is in the way, and that they come to their end. Each runs on an instance of its own. */
final class CommandLineTest extends TestCase
{
    private const ROOT = __DIR__ . '/../..';

    protected function tearDown(): void
    {
        (new Filesystem())->remove(self::ROOT . '/var/elsewhere');
    }

    /** @return iterable<string, array{list<string>, int, string}> arguments, exit code, part of what is said */
    public static function commands(): iterable
    {
        yield 'status of what does not run' => [['olivine:status'], 3, 'Start it with'];
        yield 'stop of what does not run' => [['olivine:stop'], 0, 'Nothing was running'];
        yield 'a port that is no number' => [['olivine:start', '--port=web'], 2, 'must be a number from 1024 to 65000'];
        yield 'a port out of range' => [['olivine:start', '--port=70000'], 2, 'must be a number from 1024 to 65000'];
        yield 'a day that no week has' => [['olivine:start', '--weekday=8'], 2, 'must be 1 (Monday) to 7 (Sunday)'];
        yield 'a role that does not exist' => [['olivine:person', 'a@saltmarsh.example', 'A', 'captain'], 2, 'viewer, engineer or administrator'];
    }

    /** @param list<string> $arguments */
    #[DataProvider('commands')]
    public function testSaysWhatIsWrongAndTheRemedy(array $arguments, int $code, string $words): void
    {
        $process = $this->console($arguments);
        self::assertSame($code, $process->getExitCode(), $process->getOutput() . $process->getErrorOutput());
        self::assertStringContainsString($words, $process->getOutput());
    }

    public function testAPortInUseIsNamedWithItsRemedyAndNothingIsStarted(): void
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0', $error, $message);
        self::assertNotFalse($socket);
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
        $process = $this->console(['olivine:start', "--port={$port}"]);
        self::assertSame(1, $process->getExitCode());
        self::assertStringContainsString("Port {$port} (web) is in use", $process->getOutput());
        self::assertStringContainsString('--port=' . ($port + 100), $process->getOutput());
        self::assertFileDoesNotExist(self::ROOT . '/var/elsewhere/run/supervisor.pid');
        fclose($socket);
    }

    /** As in `bin/olivine demo 2>&1 | tee log`: what was started goes on, and the pipe comes to its end. */
    public function testWhatGoesOnInTheBackgroundHoldsNoPipeOpen(): void
    {
        $port = (int) (getenv('OLIVINE_TEST_PORT') ?: 8720) + 100;
        try {
            $said = $this->piped("exec 2>&1 7>&1; php bin/console olivine:start --detach --no-standins --port={$port}; php bin/console olivine:status");
            self::assertStringContainsString("http://127.0.0.1:{$port}", $said);
            self::assertStringContainsString('"person":null', (string) file_get_contents("http://127.0.0.1:{$port}/api/session"));
        } finally {
            self::assertStringContainsString('Stopped in', $this->piped('php bin/console olivine:stop'));
        }
    }

    private function piped(string $commands): string
    {
        $process = $this->prepared(['bash', '-c', "({$commands}) | cat"]);
        $process->run();

        return $process->getOutput() . $process->getErrorOutput();
    }

    /** @param list<string> $arguments */
    private function console(array $arguments): Process
    {
        $process = $this->prepared([PHP_BINARY, 'bin/console', ...$arguments]);
        $process->run();

        return $process;
    }

    /** @param list<string> $command */
    private function prepared(array $command): Process
    {
        $directory = self::ROOT . '/var/elsewhere';
        is_dir($directory) || mkdir($directory, 0o777, true);
        // The environment of the test instance must not leak in: it would be asked, and stopped, in its place.
        $clean = array_fill_keys(array_keys(getenv()), false);

        return new Process($command, self::ROOT, ['PATH' => (string) getenv('PATH'), 'OLIVINE_INSTANCE' => 'elsewhere', 'OLIVINE_STATE_DIR' => (string) realpath($directory)] + $clean, null, 60.0);
    }
}

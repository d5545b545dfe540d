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
        yield 'an address that is none' => [['olivine:person', 'nobody at all', 'A', 'viewer'], 2, 'no address that mail can be sent to'];
        yield 'a name of two lines' => [['olivine:person', 'a@saltmarsh.example', "A\nB", 'viewer'], 2, 'must be one line'];
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

    /** @return iterable<string, array{list<string>, int, string}> */
    public static function programs(): iterable
    {
        yield 'help of the agent' => [['agent', '--help'], 0, 'serves the metrics of this machine'];
        yield 'a mistyped argument' => [['agent', '--prot=1'], 2, 'There is no argument --prot=1'];
        yield 'a port that is none' => [['agent', '--port=web'], 2, '--port must be a port, 1 to 65535, not web'];
        yield 'a file named from where one stands' => [['read', 'here.txt'], 0, '"ok": true'];
        yield 'a file that is not there' => [['read', 'nowhere.txt'], 2, 'nowhere.txt cannot be read'];
        yield 'an instance of an odd name' => [['status'], 2, 'OLIVINE_INSTANCE must be small letters'];
    }

    /** @param list<string> $arguments */
    #[DataProvider('programs')]
    public function testProgramsSayWhatIsWrongWithoutTheirInside(array $arguments, int $code, string $words): void
    {
        $folder = sys_get_temp_dir() . '/olivine-stands-' . bin2hex(random_bytes(4));
        mkdir($folder);
        file_put_contents("{$folder}/here.txt", "a 1\n# EOF\n");
        $process = new Process(
            [realpath(self::ROOT) . '/bin/olivine', ...$arguments],
            $folder,
            ['OLIVINE_INSTANCE' => $arguments === ['status'] ? '../x' : false, 'OLIVINE_STATE_DIR' => false],
            null,
            60.0,
        );
        $process->run();
        (new Filesystem())->remove($folder);
        $said = $process->getOutput() . $process->getErrorOutput();
        self::assertSame($code, $process->getExitCode(), $said);
        self::assertStringContainsString($words, $said);
        self::assertDoesNotMatchRegularExpression('~Stack trace|#0 |Uncaught~', $said);
    }

    public function testTheAgentNamesAPortInUse(): void
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0') ?: self::fail('no socket');
        $port = substr((string) strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
        $process = new Process([PHP_BINARY, 'agent/agent.php', "--port={$port}"], self::ROOT, null, null, 20.0);
        self::assertSame(1, $process->run());
        self::assertStringContainsString("Cannot listen at 127.0.0.1:{$port}", $process->getErrorOutput());
        self::assertDoesNotMatchRegularExpression('~Stack trace|#0 |Uncaught~', $process->getErrorOutput());
        fclose($socket);
    }

    /** Used and free are what `df` says; what a file system keeps back for root is neither. */
    public function testTheAgentCountsSpaceAsTheKernelDoes(): void
    {
        $text = (new \Olivine\Agent\HostMetrics('/proc', '/sys'))->text();
        $df = preg_split('~\s+~', trim((string) shell_exec('LC_ALL=C df -B1 --output=size,used,avail / | tail -1'))) ?: [];
        $found = [];
        preg_match_all('~^system_filesystem_usage_bytes\{[^}]*mountpoint="/",[^}]*state="(\w+)"[^}]*\} (\d+)~m', $text, $parts, PREG_SET_ORDER);
        foreach ($parts as [, $state, $bytes]) {
            $found[$state] = (int) $bytes;
        }
        if ($found === []) {
            self::markTestSkipped('The root here is of no kind that the agent tells of');
        }
        self::assertEqualsWithDelta((int) $df[1], $found['used'] ?? 0, 200e6);
        self::assertEqualsWithDelta((int) $df[2], $found['free'] ?? 0, 200e6);
        self::assertSame((int) $df[0], array_sum($found));
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

    /** @return iterable<string, array{string, string, string}> the instance, what its env says, how it is started */
    public static function stopped(): iterable
    {
        yield 'the demo' => ['demo', '', 'bin/olivine demo'];
        yield 'one without any of the demo' => ['main', "OLIVINE_STANDINS=\"0\"\n", 'bin/olivine up'];
        yield 'a second demo' => ['greyhaven', "OLIVINE_STANDINS=\"1\"\n", 'OLIVINE_INSTANCE=greyhaven bin/olivine demo'];
        yield 'a second one without' => ['skarn', "OLIVINE_STANDINS=\"0\"\n", 'OLIVINE_INSTANCE=skarn bin/olivine up'];
    }

    #[DataProvider('stopped')]
    public function testWhatIsStoppedSaysHowThisVeryInstanceIsStarted(string $instance, string $env, string $command): void
    {
        $folder = sys_get_temp_dir() . '/olivine-' . bin2hex(random_bytes(4)) . "/{$instance}";
        mkdir($folder, 0o700, true);
        if ($env !== '') {
            file_put_contents("{$folder}/env", $env);
        }
        $process = $this->prepared([PHP_BINARY, 'bin/console', 'olivine:status'], $folder);
        self::assertSame(3, $process->run());
        (new Filesystem())->remove(dirname($folder));
        self::assertStringContainsString("Start it with: {$command}\n", $process->getOutput());
    }

    /** As in `bin/olivine demo 2>&1 | tee log`: what was started goes on, and the pipe comes to its end. */
    public function testWhatGoesOnInTheBackgroundHoldsNoPipeOpen(): void
    {
        $port = (int) (getenv('OLIVINE_TEST_PORT') ?: 8720) + 100;
        // The file is there before the first start, as by whoever keeps this instance behind a proxy of this machine.
        if (!is_dir(self::ROOT . '/var/elsewhere')) {
            mkdir(self::ROOT . '/var/elsewhere', 0o711, true);
        }
        file_put_contents(self::ROOT . '/var/elsewhere/env', "OLIVINE_TRUSTED_PROXIES=\"127.0.0.1\"\n");
        try {
            $said = $this->piped(
                "exec 2>&1 7>&1; php bin/console olivine:start --detach --no-standins --port={$port}; for i in $(seq 40); do php " .
                    "bin/console olivine:status | grep -q 'rules 1,' && break; sleep 0.5; done; php bin/console olivine:status",
            );
            self::assertStringContainsString("http://127.0.0.1:{$port}", $said);
            foreach (
                [
                    'OLIVINE_INSTANCE=elsewhere bin/olivine stop',
                    'OLIVINE_INSTANCE=elsewhere bin/olivine person',
                    'http://127.0.0.1:' . ($port + 5) . '/metrics',
                ] as $hint
            ) {
                self::assertStringContainsString($hint, $said, 'every hint is of this very instance');
            }
            self::assertStringContainsString('rules 1,', $said, 'a rule for silent targets is there from the start');
            self::assertStringContainsString('"person":null', (string) file_get_contents("http://127.0.0.1:{$port}/api/session"));
            $this->checkBehindAProxy("http://127.0.0.1:{$port}");
        } finally {
            self::assertStringContainsString('Stopped in', $this->piped('php bin/console olivine:stop'));
        }
    }

    /** The proxy ends TLS: what it forwards came to `https://olivine.saltmarsh.example`, from 203.0.113.9. */
    private function checkBehindAProxy(string $olivine): void
    {
        $added = $this->piped('echo "Skarn tide 41 rises" | php bin/console olivine:person ines@saltmarsh.example "Inês Duarte" administrator');
        self::assertStringContainsString('ines@saltmarsh.example', $added);
        $forwarded = [
            'X-Forwarded-Host: olivine.saltmarsh.example',
            'X-Forwarded-Proto: https',
            'X-Forwarded-Port: 443',
            'X-Forwarded-For: 203.0.113.9',
        ];
        $signIn = static function (string $origin) use ($olivine, $forwarded): array {
            $body = json_encode(['email' => 'ines@saltmarsh.example', 'password' => 'Skarn tide 41 rises'], JSON_THROW_ON_ERROR);
            $options = [
                'method' => 'POST',
                'header' => [...$forwarded, "Origin: {$origin}", 'Content-Type: application/json'],
                'content' => $body,
                'ignore_errors' => true,
            ];
            file_get_contents("{$olivine}/api/session", false, stream_context_create(['http' => $options]));

            return $http_response_header;
        };
        $head = $signIn('https://olivine.saltmarsh.example');
        self::assertStringEndsWith(' 200', $head[0], implode("\n", $head));
        self::assertMatchesRegularExpression('~^Set-Cookie: .*; secure~im', implode("\n", $head), 'the cookie is for TLS alone');
        self::assertStringEndsWith(' 403', $signIn('https://elsewhere.example')[0], 'a page of another origin changes nothing');
        $own = stream_context_create(['http' => ['header' => $forwarded, 'ignore_errors' => true]]);
        file_get_contents("{$olivine}/api/own-metrics", false, $own);
        self::assertStringEndsWith(' 403', $http_response_header[0], 'own figures are not for the world behind a proxy of this machine');
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
    private function prepared(array $command, string $directory = self::ROOT . '/var/elsewhere'): Process
    {
        if (!is_dir($directory)) {
            mkdir($directory, 0o777, true);
        }
        // The environment of the test instance must not leak in: it would be asked, and stopped, in its place.
        $clean = array_fill_keys(array_keys(getenv()), false);

        $environment = [
            'PATH' => (string) getenv('PATH'),
            'OLIVINE_INSTANCE' => basename($directory),
            'OLIVINE_STATE_DIR' => (string) realpath($directory),
        ];

        return new Process($command, self::ROOT, $environment + $clean, null, 240.0);
    }
}

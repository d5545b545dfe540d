<?php

declare(strict_types=1);

// Runs the tests: php tests/run.php [core|app|browser|faults …]. They run side by side: what computes, what needs an instance, and what
// drives a browser, each of the last two on an instance of its own. What one says is shown when it ends.

use Symfony\Component\Process\Process;

require dirname(__DIR__) . '/vendor/autoload.php';

/** One suite, and the instance it has to itself. */
final class Lane
{
    private const DAYS = 3;
    private string $said = '';
    /** @var list<Process> */
    private array $waiting;
    private ?Process $running = null;
    private bool $hasFailed = false;

    public function __construct(private readonly string $root, public readonly string $suite, private readonly ?int $port)
    {
        $php = [PHP_BINARY, '-d', 'memory_limit=2G'];
        $this->waiting = [$this->process([...$php, 'vendor/bin/phpunit', '--testsuite', $suite])];
        if ($suite === 'core') {
            $this->waiting[] = $this->process(['npm', '--prefix', 'web', 'run', '--silent', 'test']);
        }
        if ($port !== null) {
            if (!is_dir($this->folder())) {
                mkdir($this->folder(), 0o777, true);
            }
            // On a Friday nothing breaks by itself, so what the tests find open is what they broke, whatever day it is. Three days
            // of history reach back over a border of partitions, wherever today lies between two.
            $start = ['olivine:start', '--fresh', '--detach', '--gather=2', '--days=' . self::DAYS, '--weekday=5', "--port={$port}"];
            // Many tests at once tell one person more in a minute than anybody would read.
            $eachAlone = ['dbal:run-sql', "REPLACE INTO setting (name, value) VALUES ('instance', '{\"mostAMinute\":\"0\"}')"];
            array_unshift(
                $this->waiting,
                $this->process([PHP_BINARY, 'bin/console', ...$start]),
                $this->process([PHP_BINARY, 'bin/console', ...$eachAlone]),
            );
        }
    }

    /** @return bool whether it goes on */
    public function goOn(): bool
    {
        if ($this->running?->isRunning() === true) {
            return true;
        }
        if ($this->running !== null && $this->running->getExitCode() !== 0) {
            $this->hasFailed = true;
            // Without its instance nothing of a suite can be told.
            if (str_contains($this->running->getCommandLine(), 'olivine:start')) {
                $this->waiting = [];
            }
        }
        $this->running = array_shift($this->waiting);
        $this->running?->start(function (string $type, string $text): void {
            $this->said .= $text;
        });

        return $this->running !== null;
    }

    public function stop(): void
    {
        $this->running?->stop(1.0);
        if ($this->port !== null) {
            $this->process([PHP_BINARY, 'bin/console', 'olivine:stop'])->run();
        }
    }

    public function said(): string
    {
        return $this->said;
    }

    public function hasFailed(): bool
    {
        return $this->hasFailed;
    }

    private function folder(): string
    {
        return "{$this->root}/var/" . $this->instance();
    }

    private function instance(): string
    {
        return $this->suite === 'app' ? 'test' : "test-{$this->suite}";
    }

    /** @param list<string> $command */
    private function process(array $command): Process
    {
        $environment = ['OLIVINE_INSTANCE' => $this->instance(), 'OLIVINE_STATE_DIR' => $this->folder()];

        return new Process($command, $this->root, $environment, null, null);
    }
}

$root = dirname(__DIR__);
$suites = array_slice($argv, 1) ?: ['core', 'app', 'browser'];
$unknown = array_diff($suites, ['core', 'app', 'browser', 'faults']);
if ($unknown !== []) {
    fwrite(STDERR, 'There is no suite ' . implode(', ', $unknown) . "; there are core, app, browser and faults.\n");
    exit(2);
}
$port = (int) (getenv('OLIVINE_TEST_PORT') ?: 8720);
// The application's tests start a second instance at a hundred above theirs.
$ports = ['core' => null, 'app' => $port, 'browser' => $port + 200, 'faults' => $port + 300];
$lanes = array_map(static fn(string $suite): Lane => new Lane($root, $suite, $ports[$suite]), $suites);
$stop = static fn() => array_walk($lanes, static fn(Lane $lane) => $lane->stop());
pcntl_async_signals(true);
foreach ([SIGINT, SIGTERM] as $signal) {
    pcntl_signal($signal, static function () use ($stop): never {
        $stop();
        exit(130);
    });
}
echo 'Running ' . implode(', ', $suites) . (count($suites) > 1 ? " side by side; each is shown when it ends.\n" : ".\n");
$began = microtime(true);
$failed = false;
$going = $lanes;
while ($going !== []) {
    foreach ($going as $i => $lane) {
        if ($lane->goOn()) {
            continue;
        }
        unset($going[$i]);
        $lane->stop();
        $failed = $failed || $lane->hasFailed();
        $how = $lane->hasFailed() ? 'failed' : 'passed';
        printf("\n== %s %s after %d s ==\n%s\n", $lane->suite, $how, microtime(true) - $began, rtrim($lane->said()));
    }
    usleep(200_000);
}
exit($failed ? 1 : 0);

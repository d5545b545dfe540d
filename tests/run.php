<?php

declare(strict_types=1);

// Runs the tests: php tests/run.php [core|app|browser|faults …]. Several hands work side by side, each with an instance of its own, and take
// class after class from what is left of their suite; what needs no instance is done by whoever is through first. Most of a test is
// waiting, so a hand more than there are processors is no waste. A class that failed is shown whole, at once and again at the end.

use Symfony\Component\Process\Process;

require dirname(__DIR__) . '/vendor/autoload.php';

/** What is left to do, in this order; of a suite the longest first: by the size of its file, but for a few that are long for their size. */
final class Work
{
    private const LONG = ['FaultsTest', 'GarbageTest', 'BrokenRuleTest', 'RehearsalTest', 'CommandLineTest', 'StationTest', 'RuleFilesTest'];
    /** @var list<array{string, string, list<string>}> suite, name and command */
    private array $left = [];

    public function __construct(private readonly string $root)
    {
    }

    public function add(string $suite): void
    {
        $phpunit = [PHP_BINARY, '-d', 'memory_limit=2G', 'vendor/bin/phpunit'];
        if ($suite === 'core') {
            $this->left[] = [$suite, $suite, [...$phpunit, '--testsuite', $suite]];
            $this->left[] = [$suite, 'web', ['npm', '--prefix', 'web', 'run', '--silent', 'test']];

            return;
        }
        $files = glob("{$this->root}/tests/" . ucfirst($suite) . '/*Test.php') ?: [];
        $length = static fn(string $file): int => in_array(basename($file, '.php'), self::LONG, true) ? PHP_INT_MAX : (int) filesize($file);
        usort($files, static fn(string $a, string $b): int => $length($b) <=> $length($a));
        foreach ($files as $file) {
            $this->left[] = [$suite, basename($file, '.php'), [...$phpunit, $file]];
        }
    }

    /** @return array{string, string, list<string>}|null */
    public function next(): ?array
    {
        return array_shift($this->left);
    }
}

/** Whoever takes one thing after another from the work, and the instance it has for it. */
final class Hand
{
    private const DAYS = 3;
    /** @var list<array{string, string, list<string>}> what makes its instance ready */
    private array $before = [];
    private ?Process $running = null;
    private string $suite = '';
    private string $doing = '';
    private string $said = '';
    private float $began = 0.0;
    /** @var array<string, string> what failed, and what it said */
    public array $failed = [];

    /** @param int $port 0: without an instance */
    public function __construct(private readonly string $root, private readonly Work $work, private readonly string $instance, private readonly int $port)
    {
        if ($port === 0) {
            return;
        }
        if (!is_dir($this->folder())) {
            mkdir($this->folder(), 0o777, true);
        }
        // On a Friday nothing breaks by itself, so what the tests find open is what they broke, whatever day it is. Three days
        // of history reach back over a border of partitions, wherever today lies between two.
        $start = ['olivine:start', '--fresh', '--detach', '--gather=2', '--days=' . self::DAYS, '--weekday=5', "--port={$port}"];
        // Many tests at once tell one person more in a minute than anybody would read.
        $eachAlone = ['dbal:run-sql', "REPLACE INTO setting (name, value) VALUES ('instance', '{\"mostAMinute\":\"0\"}')"];
        $this->before = [
            [$instance, 'the instance', [PHP_BINARY, 'bin/console', ...$start]],
            [$instance, 'its settings', [PHP_BINARY, 'bin/console', ...$eachAlone]],
        ];
    }

    /** @return bool whether it goes on */
    public function goOn(): bool
    {
        if ($this->running?->isRunning() === true) {
            return true;
        }
        if ($this->running !== null && !$this->tell($this->running)) {
            return false;
        }
        $next = array_shift($this->before) ?? $this->work->next();
        if ($next === null) {
            return false;
        }
        [$this->suite, $this->doing, $command] = $next;
        $this->said = '';
        $this->began = microtime(true);
        $this->running = $this->process($command);
        $this->running->start(function (string $type, string $text): void {
            $this->said .= $text;
        });

        return true;
    }

    public function stop(): void
    {
        $this->running?->stop(1.0);
        if ($this->port !== 0) {
            $this->process([PHP_BINARY, 'bin/console', 'olivine:stop'])->run();
        }
    }

    /** @return bool whether anything can follow: without its instance nothing of a suite can be told */
    private function tell(Process $ended): bool
    {
        $this->running = null;
        $passed = $ended->getExitCode() === 0;
        preg_match('~^OK .*|^Tests: .*|Tests  .*~m', (string) preg_replace('~\e\[\d+m~', '', $this->said), $figures);
        $words = trim($figures[0] ?? '', "\n .");
        printf("%-7s %-12s %-24s %4d s  %s\n", $passed ? 'passed' : 'FAILED', $this->suite, $this->doing, microtime(true) - $this->began, $words);
        // What was measured on the way is told as well.
        foreach (preg_grep('~^[a-z][\w ,.-]+: [\d.,]+ ~', explode("\n", $this->said)) ?: [] as $line) {
            echo "        {$line}\n";
        }
        if ($passed) {
            return true;
        }
        $this->failed["{$this->suite}: {$this->doing}"] = rtrim($this->said);
        echo rtrim($this->said) . "\n";

        return $this->doing !== 'the instance';
    }

    private function folder(): string
    {
        return "{$this->root}/var/{$this->instance}";
    }

    /** @param list<string> $command */
    private function process(array $command): Process
    {
        $environment = ['OLIVINE_INSTANCE' => $this->instance, 'OLIVINE_STATE_DIR' => $this->folder()];

        return new Process($command, $this->root, $environment, null, null);
    }
}

$root = dirname(__DIR__);
$port = (int) (getenv('OLIVINE_TEST_PORT') ?: 8720);
$wanted = array_values(array_unique(array_slice($argv, 1) ?: ['core', 'app', 'browser']));
$unknown = array_diff($wanted, ['core', 'app', 'browser', 'faults']);
if ($unknown !== []) {
    fwrite(STDERR, 'There is no suite ' . implode(', ', $unknown) . "; there are core, app, browser and faults.\n");
    exit(2);
}
// The application's tests start a second instance at a hundred above theirs.
$hands = [
    'app' => ['test' => $port, 'test-app' => $port + 400],
    'browser' => ['test-browser' => $port + 200, 'test-look' => $port + 600],
    'faults' => ['test-faults' => $port + 300],
    'core' => ['test-core' => 0],
];
// What needs no instance takes its turn with the application's, or stands alone.
$isCoreAlone = in_array('core', $wanted, true) && !in_array('app', $wanted, true);
$all = [];
$suites = $isCoreAlone ? $wanted : array_diff($wanted, ['core']);
foreach (array_intersect_key($hands, array_flip($suites)) as $suite => $instances) {
    $work = new Work($root);
    foreach ($suite === 'app' ? array_intersect(['core', 'app'], $wanted) : [$suite] as $part) {
        $work->add($part);
    }
    foreach ($instances as $instance => $at) {
        $all[] = new Hand($root, $work, $instance, $at);
    }
}
$stop = static fn() => array_walk($all, static fn(Hand $hand) => $hand->stop());
pcntl_async_signals(true);
foreach ([SIGINT, SIGTERM] as $signal) {
    pcntl_signal($signal, static function () use ($stop): never {
        $stop();
        exit(130);
    });
}
$began = microtime(true);
printf("Running %s, %d hands side by side.\n", implode(', ', $wanted), count($all));
for ($going = $all; $going !== []; usleep(200_000)) {
    foreach ($going as $i => $hand) {
        if (!$hand->goOn()) {
            $hand->stop();
            unset($going[$i]);
        }
    }
}
$failed = array_merge(...array_map(static fn(Hand $hand): array => $hand->failed, $all));
foreach ($failed as $what => $said) {
    echo "\n== {$what} failed ==\n{$said}\n";
}
printf("\n%s after %d s\n", $failed === [] ? 'All passed' : count($failed) . ' failed', microtime(true) - $began);
exit($failed === [] ? 0 : 1);

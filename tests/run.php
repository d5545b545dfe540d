<?php

declare(strict_types=1);

// Runs the tests: php tests/run.php [core|app|browser …]. App and browser tests get an instance of their own.

use Symfony\Component\Process\Process;

require dirname(__DIR__) . '/vendor/autoload.php';

$root = dirname(__DIR__);
$suites = array_slice($argv, 1) ?: ['core', 'app', 'browser'];
$unknown = array_diff($suites, ['core', 'app', 'browser']);
if ($unknown !== []) {
    fwrite(STDERR, 'There is no suite ' . implode(', ', $unknown) . "; there are core, app and browser.\n");
    exit(2);
}
$environment = [
    'OLIVINE_INSTANCE' => 'test',
    'OLIVINE_STATE_DIR' => "{$root}/var/test",
];
$run = static function (array $command, bool $quiet = false) use ($root, $environment): int {
    $process = new Process($command, $root, $environment, null, null);

    return $process->run(static function (string $type, string $text) use ($quiet): void {
        $quiet || fwrite($type === Process::ERR ? STDERR : STDOUT, $text);
    });
};
$stop = static fn(): int => $run([PHP_BINARY, 'bin/console', 'olivine:stop'], true);
pcntl_async_signals(true);
foreach ([SIGINT, SIGTERM] as $signal) {
    pcntl_signal($signal, static function () use ($stop): never {
        $stop();
        exit(130);
    });
}

$failed = false;
if (array_diff($suites, ['core']) !== []) {
    is_dir("{$root}/var/test") || mkdir("{$root}/var/test", 0o777, true);
    // On a Friday nothing breaks by itself, so what the tests find open is what they broke, whatever day it is. Three days of
    // history reach back over a border of partitions, wherever today lies between two.
    if (
        $run([
            PHP_BINARY,
            'bin/console',
            'olivine:start',
            '--fresh',
            '--detach',
            '--gather=2',
            '--days=3',
            '--weekday=5',
            '--port=' . (getenv('OLIVINE_TEST_PORT') ?: '8720'),
        ]) !== 0
    ) {
        exit(1);
    }
}
try {
    $failed = $run([PHP_BINARY, '-d', 'memory_limit=2G', 'vendor/bin/phpunit', '--testsuite', implode(',', $suites)]) !== 0;
    if (in_array('core', $suites, true)) {
        $failed = $run(['npm', '--prefix', 'web', 'run', '--silent', 'test']) !== 0 || $failed;
    }
} finally {
    $stop();
}
exit($failed ? 1 : 0);

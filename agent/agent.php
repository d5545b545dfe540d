<?php

declare(strict_types=1);

// Serves this machine's own metrics at /metrics: bin/olivine agent [--port=N] [--host=ADDRESS] [--allow=FILE] [--certificates=PATTERN,…]
// [--files=PATTERN,…] [--processes=NAME,…] [--units=UNIT,…]
// With --allow it also runs what that file allows, asked for at /run and signed: see docs/actions.md

use Olivine\Agent\AllowedCommands;
use Olivine\Agent\Certificates;
use Olivine\Agent\HostMetrics;
use Olivine\Agent\ProcessorShares;
use Olivine\Agent\WatchedFiles;
use Olivine\Agent\WatchedProcesses;
use Olivine\Agent\WatchedUnits;
use Olivine\Core\Exposition\TextWriter;
use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use React\EventLoop\Loop;
use React\Promise\PromiseInterface;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'bin/olivine agent: serves the metrics of this machine at /metrics', [
    'host' => 'address to listen at; 127.0.0.1 if not given, 0.0.0.0 for every one',
    'port' => 'port to listen at; 9105 if not given',
    'allow' => 'YAML file of the commands that may be run here by name; none if not given',
    'certificates' => 'folders or patterns of files, with commas between, whose certificates are told; none if not given',
    'processes' => 'names of programs, or words of command lines, with commas between, that are told of; none if not given',
    'units' => 'units of systemd, with commas between, that are told of, such as nginx.service; none if not given',
    'files' => 'patterns of files, with commas between, whose count, size and age are told; none if not given',
]);
$patterns = static fn(string $name): array => array_values(array_filter(explode(',', $arguments->get($name, '')), static fn(string $one): bool => $one !== ''));
$shares = new ProcessorShares();
$metrics = new HostMetrics(
    '/proc',
    '/sys',
    new Certificates($patterns('certificates')),
    new WatchedFiles($patterns('files')),
    $shares,
    new WatchedProcesses($patterns('processes')),
    new WatchedUnits($patterns('units')),
);
$file = $arguments->get('allow', '');
try {
    $allowed = $file === '' ? null : AllowedCommands::of($file);
} catch (InvalidArgumentException $error) {
    fwrite(STDERR, "{$error->getMessage()}\n");
    exit(2);
}
(new HttpServer(
    static fn(Request $request): Response|PromiseInterface => match (true) {
        $request->path === '/metrics' => new Response($metrics->text(), TextWriter::CONTENT_TYPE),
        $request->path === '/run' && $allowed !== null => $allowed->run($request),
        $request->path === '/' => new Response("Metrics of this machine stand at /metrics\n", 'text/plain'),
        default => new Response("Nothing here; see /metrics\n", 'text/plain', 404),
    },
))->listen($arguments->get('host', '127.0.0.1') . ':' . $arguments->get('port', '9105'));
// Only once it listens: a program that waits for its next second does not end.
$shares->look();
Loop::addPeriodicTimer(1.0, $shares->look(...));

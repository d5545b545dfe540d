<?php

declare(strict_types=1);

// Serves this machine's own metrics at /metrics: bin/olivine agent [--port=N] [--host=ADDRESS]

use Olivine\Agent\HostMetrics;
use Olivine\Core\Exposition\TextWriter;
use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'bin/olivine agent: serves the metrics of this machine at /metrics', [
    'host' => 'address to listen at; 127.0.0.1 if not given, 0.0.0.0 for every one',
    'port' => 'port to listen at; 9105 if not given',
]);
$metrics = new HostMetrics('/proc', '/sys');
(new HttpServer(
    static fn(Request $request): Response => match ($request->path) {
        '/metrics' => new Response($metrics->text(), TextWriter::CONTENT_TYPE),
        '/' => new Response("Metrics of this machine stand at /metrics\n", 'text/plain'),
        default => new Response("Nothing here; see /metrics\n", 'text/plain', 404),
    },
))->listen($arguments->get('host', '127.0.0.1') . ':' . $arguments->get('port', '9105'));

<?php

declare(strict_types=1);

// Many targets at one port for measuring the collector: every path answers the given number of series, with values that move. Prints its port.

use React\EventLoop\Loop;
use React\Socket\ConnectionInterface;
use React\Socket\SocketServer;

require dirname(__DIR__) . '/vendor/autoload.php';

$series = (int) ($argv[1] ?? 200);
$answers = [];
for ($variant = 0; $variant < 16; ++$variant) {
    $text = "# TYPE requests counter\n";
    for ($i = 0; $i < $series; ++$i) {
        $text .= "requests_total{route=\"/r{$i}\",status=\"200\"} " . ($variant * 1_000 + $i * 7) . ".5\n";
    }
    $body = (string) gzencode($text . "# EOF\n", 1);
    $answers[] =
        "HTTP/1.1 200 OK\r\nContent-Type: application/openmetrics-text; version=1.0.0\r\nContent-Encoding: gzip\r\nContent-Length: " .
        strlen($body) .
        "\r\n\r\n{$body}";
}
$server = new SocketServer('127.0.0.1:0', ['tcp' => ['backlog' => 511]]);
$server->on('connection', static function (ConnectionInterface $connection) use ($answers): void {
    $buffer = '';
    $connection->on('data', static function (string $data) use ($connection, $answers, &$buffer): void {
        $buffer .= $data;
        while (($end = strpos($buffer, "\r\n\r\n")) !== false) {
            $buffer = substr($buffer, $end + 4);
            $connection->write($answers[intdiv(time(), 5) % count($answers)]);
        }
    });
});
echo parse_url((string) $server->getAddress(), PHP_URL_PORT), "\n";
Loop::run();

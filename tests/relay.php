<?php

declare(strict_types=1);

// Hands connections on: php tests/relay.php tcp://127.0.0.1:8000 unix:///tmp/a.sock
// A socket in the file system reaches over the borders of network namespaces.

use React\Socket\ConnectionInterface;
use React\Socket\Connector;
use React\Socket\SocketServer;

require dirname(__DIR__) . '/vendor/autoload.php';

[, $from, $to] = $argv;
$connector = new Connector(['timeout' => 10.0]);
$server = new SocketServer($from);
$server->on('connection', static function (ConnectionInterface $one) use ($connector, $to): void {
    $one->pause();
    $connector->connect($to)->then(
        static function (ConnectionInterface $other) use ($one): void {
            $one->pipe($other);
            $other->pipe($one);
            $one->on('close', static fn() => $other->close());
            $other->on('close', static fn() => $one->close());
            $one->resume();
        },
        static fn() => $one->close(),
    );
});
echo "listening\n";

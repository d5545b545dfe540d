<?php

declare(strict_types=1);

// A server that does all that a target must not: one path a misdeed. Prints its port.

use React\EventLoop\Loop;
use React\Socket\ConnectionInterface;
use React\Socket\SocketServer;

require dirname(__DIR__, 2) . '/vendor/autoload.php';

$server = new SocketServer('127.0.0.1:0');
$server->on('connection', static function (ConnectionInterface $connection): void {
    $connection->once('data', static function (string $request) use ($connection): void {
        $path = explode(' ', $request)[1] ?? '/';
        $head = "HTTP/1.1 200 OK\r\nContent-Type: application/openmetrics-text\r\nConnection: close\r\n";
        if (str_starts_with($path, '/sends?to=')) {
            $connection->end(
                "HTTP/1.1 302 Found\r\nLocation: " . rawurldecode(substr($path, 10)) . "\r\nContent-Length: 0\r\nConnection: close\r\n\r\n",
            );

            return;
        }
        if (str_starts_with($path, '/inside')) {
            $header = static fn(string $name): string => preg_match("~^{$name}: ([^\r\n]*)~mi", $request, $part) === 1 ? $part[1] : '';
            $body = (string) json_encode(['cookie' => $header('Cookie'), 'token' => $header('X-Token')]);
            $connection->end("HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nConnection: close\r\n\r\n{$body}");

            return;
        }
        switch ($path) {
            case '/login':
                $said = json_encode(['token' => 'a b&c', 'you said' => substr($request, (int) strpos($request, "\r\n\r\n") + 4)]);
                $connection->end("HTTP/1.1 200 OK\r\nSet-Cookie: berth=7; Path=/\r\nConnection: close\r\n\r\n{$said}");

                return;
            case '/speaks-otherwise':
                $connection->end("220 harbour.example ESMTP\r\n");

                return;
            case '/hangs':
                return;
            case '/drips':
                $connection->write($head . "\r\n");
                Loop::addPeriodicTimer(0.3, static fn(): bool => $connection->write('a'));

                return;
            case '/endless':
                $connection->write($head . "\r\n");
                $more = static function () use ($connection, &$more): void {
                    if ($connection->isWritable()) {
                        $connection->write(str_repeat("a 1\n", 250_000));
                        Loop::futureTick($more);
                    }
                };
                $connection->on('close', static function () use (&$more): void {
                    $more = static function (): void {
                    };
                });
                $more();

                return;
            case '/bomb':
                $connection->end($head . "Content-Encoding: gzip\r\n\r\n" . gzencode(str_repeat('a', 100_000_000), 9));

                return;
            case '/circle':
                $connection->end("HTTP/1.1 302 Found\r\nLocation: /circle\r\nContent-Length: 0\r\nConnection: close\r\n\r\n");

                return;
            case '/cut':
                $connection->end("{$head}Content-Length: 500\r\n\r\n# TYPE a gauge\na 1\nb{c=\"");

                return;
            case '/binary':
                $connection->end("{$head}\r\na 1\nb{c=\"\xC3\x28\"} 2\n# EOF\n");

                return;
            case '/explodes':
                $text = '';
                for ($i = 0; $i < 30_000; ++$i) {
                    $text .= "sessions{user=\"{$i}\"} 1\n";
                }
                $connection->end("{$head}\r\n{$text}# EOF\n");

                return;
            case '/empty':
                $connection->end("{$head}\r\n# EOF\n");

                return;
            case '/guarded':
                // Tells what it was shown, so that a test sees what arrived.
                preg_match('~^(?:Authorization|X-Key): [^\r\n]*~mi', $request, $shown);
                $connection->end(
                    in_array(
                        $shown[0] ?? '',
                        ['Authorization: Basic ' . base64_encode('scraper:s3cret of the sea'), 'Authorization: Bearer tide-token', 'X-Key: pier 7'],
                        true,
                    )
                        ? "{$head}\r\n# TYPE guarded gauge\nguarded 1\n# EOF\n"
                        : "HTTP/1.1 401 Unauthorized\r\nContent-Length: 0\r\nConnection: close\r\n\r\n",
                );

                return;
            case '/late':
                $connection->end("{$head}\r\nlate{where=\"" . str_repeat('far ', 15) . '"} 1 ' . (time() - 7_200) . "\n# EOF\n");

                return;
            case '/elsewhere':
                $connection->end("HTTP/1.1 302 Found\r\nLocation: /echo\r\nContent-Length: 0\r\nConnection: close\r\n\r\n");

                return;
            case '/echo':
                preg_match('~^X-Key: ([^\r\n]*)~mi', $request, $shown);
                $connection->end("{$head}\r\nleaked{key=\"" . ($shown[1] ?? '') . "\"} 1\n# EOF\n");

                return;
            case '/history':
                $text = '';
                for ($i = 0; $i < 150_000; ++$i) {
                    $text .= "a 1 {$i}\n";
                }
                $connection->end("{$head}\r\n{$text}# EOF\n");

                return;
            case '/gzip':
                $connection->end($head . "Content-Encoding: gzip\r\n\r\n" . gzencode("# TYPE a gauge\na 1.5\n# EOF\n"));

                return;
            default:
                $connection->end("HTTP/1.1 503 Away\r\nContent-Length: 0\r\nConnection: close\r\n\r\n");
        }
    });
});
echo parse_url((string) $server->getAddress(), PHP_URL_PORT), "\n";

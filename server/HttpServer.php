<?php

declare(strict_types=1);

namespace Olivine\Server;

use React\EventLoop\Loop;
use React\Promise\PromiseInterface;
use React\Socket\ConnectionInterface;
use React\Socket\SocketServer;

/** A small HTTP/1.1 server: keep-alive, gzip where asked for, bounded requests. For the agent and the stand-ins. */
final readonly class HttpServer
{
    private const MAX_REQUEST_BYTES = 1_000_000;
    private const GZIP_FROM_BYTES = 1_000;

    /** @param \Closure(Request): (Response|PromiseInterface<Response>) $handler */
    public function __construct(private \Closure $handler)
    {
    }

    public function listen(string $address): void
    {
        try {
            $server = new SocketServer($address, ['tcp' => ['backlog' => 511]]);
        } catch (\RuntimeException $error) {
            fwrite(STDERR, "Cannot listen at {$address}: {$error->getMessage()}. Choose another port with --port=N.\n");
            exit(1);
        }
        $server->on('connection', function (ConnectionInterface $connection): void {
            $buffer = '';
            $connection->on('data', function (string $data) use (&$buffer, $connection): void {
                $buffer .= $data;
                if (strlen($buffer) > self::MAX_REQUEST_BYTES) {
                    $connection->end("HTTP/1.1 413 Content Too Large\r\nContent-Length: 0\r\nConnection: close\r\n\r\n");

                    return;
                }
                while (($request = self::take($buffer)) !== null) {
                    $this->answer($connection, $request);
                }
            });
        });
    }

    private function answer(ConnectionInterface $connection, Request $request): void
    {
        try {
            $response = ($this->handler)($request);
        } catch (\Throwable $error) {
            fwrite(STDERR, $error . "\n");
            $response = new Response("It failed: {$error->getMessage()}\n", 'text/plain', 500);
        }
        if ($response instanceof PromiseInterface) {
            $response->then(fn(Response $late) => self::send($connection, $request, $late));
        } else {
            self::send($connection, $request, $response);
        }
    }

    private static function send(ConnectionInterface $connection, Request $request, Response $response): void
    {
        $send = static function () use ($connection, $request, $response): void {
            if ($response->hangUp) {
                $connection->close();

                return;
            }
            $body = $response->body;
            $head =
                "HTTP/1.1 {$response->status} " .
                ($response->status < 400 ? 'OK' : 'Error') .
                "\r\nContent-Type: {$response->contentType}\r\n";
            if (strlen($body) >= self::GZIP_FROM_BYTES && str_contains($request->headers['accept-encoding'] ?? '', 'gzip')) {
                $body = (string) gzencode($body, 1);
                $head .= "Content-Encoding: gzip\r\n";
            }
            if ($response->location !== '') {
                $head .= "Location: {$response->location}\r\n";
            }
            $connection->write(
                $head . 'Content-Length: ' . strlen($body) . "\r\n\r\n" . ($request->method === 'HEAD' ? '' : $body),
            );
            if (strtolower($request->headers['connection'] ?? '') === 'close') {
                $connection->end();
            }
        };
        $response->afterSeconds > 0 ? Loop::addTimer($response->afterSeconds, $send) : $send();
    }

    private static function take(string &$buffer): ?Request
    {
        $end = strpos($buffer, "\r\n\r\n");
        if ($end === false) {
            return null;
        }
        $lines = explode("\r\n", substr($buffer, 0, $end));
        $headers = [];
        foreach (array_slice($lines, 1) as $line) {
            [$name, $value] = explode(':', $line, 2) + [1 => ''];
            $headers[strtolower(trim($name))] = trim($value);
        }
        $length = (int) ($headers['content-length'] ?? 0);
        if (strlen($buffer) < $end + 4 + $length) {
            return null;
        }
        $body = substr($buffer, $end + 4, $length);
        $buffer = substr($buffer, $end + 4 + $length);
        [$method, $target] = explode(' ', $lines[0]) + ['GET', '/'];
        $parts = parse_url('http://localhost' . $target);
        parse_str($parts['query'] ?? '', $query);

        return new Request($method, rawurldecode($parts['path'] ?? '/'), self::texts($query), $headers, $body);
    }

    /**
     * @param array<array-key, mixed> $fields
     *
     * @return array<string, string>
     */
    public static function texts(array $fields): array
    {
        $texts = [];
        foreach ($fields as $name => $value) {
            if (is_string($value)) {
                $texts[(string) $name] = $value;
            }
        }

        return $texts;
    }
}

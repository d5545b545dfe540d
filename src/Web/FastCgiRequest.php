<?php

declare(strict_types=1);

namespace Olivine\App\Web;

use Olivine\App\Platform\Scalar;

/**
 * One request as the web server hands it on, by FastCGI in the role of a responder, and the way back for its answer.
 * The web server keeps no connections, so each carries one request.
 */
final class FastCgiRequest
{
    private const VERSION = 1;
    private const BEGIN = 1;
    private const ABORT = 2;
    private const END = 3;
    private const PARAMS = 4;
    private const STDIN = 5;
    private const STDOUT = 6;
    private const HEADER_BYTES = 8;
    private const MOST_CONTENT_BYTES = 65_528;
    private const MOST_PARAM_BYTES = 1_000_000;
    private const BODY_IN_MEMORY_BYTES = 2_000_000;
    private int $bodyBytes = 0;

    private int $id = 0;

    /**
     * @param resource              $connection
     * @param resource              $body
     * @param array<string, string> $params
     */
    private function __construct(private $connection, public readonly mixed $body, public array $params = [])
    {
    }

    /**
     * @param resource $connection
     *
     * @return self|null nothing where the other side hung up or does not speak FastCGI
     */
    public static function receive($connection): ?self
    {
        $body =
            fopen('php://temp/maxmemory:' . self::BODY_IN_MEMORY_BYTES, 'w+') ?:
            throw new \RuntimeException('No room for the body of a request');
        $request = new self($connection, $body);
        $params = '';
        while (true) {
            $header = self::bytes($connection, self::HEADER_BYTES);
            if ($header === null) {
                return null;
            }
            /** @var array{version: int, type: int, id: int, length: int, padding: int} $record */
            $record = unpack('Cversion/Ctype/nid/nlength/Cpadding', $header);
            $content = self::bytes($connection, $record['length'] + $record['padding']);
            if ($content === null || $record['version'] !== self::VERSION) {
                return null;
            }
            $content = substr($content, 0, $record['length']);
            switch ($record['type']) {
                case self::BEGIN:
                    $request->id = $record['id'];
                    break;
                case self::PARAMS:
                    $params .= $content;
                    if (strlen($params) > self::MOST_PARAM_BYTES) {
                        return null;
                    }
                    break;
                case self::ABORT:
                    return null;
                case self::STDIN:
                    $request->bodyBytes += strlen($content);
                    if ($request->bodyBytes > self::mostBytes($params)) {
                        return null;
                    }
                    if ($content === '') {
                        rewind($body);
                        $request->params = self::pairs($params);

                        return $request;
                    }
                    fwrite($body, $content);
                    break;
            }
        }
    }

    /** The web server refuses more before it comes here; this holds where somebody speaks to us without it. */
    private static function mostBytes(string $params): int
    {
        return BodyBounds::of((string) strtok(self::pairs($params)['REQUEST_URI'] ?? '', '?'));
    }

    /** Whether the web server, and so whoever asked, still waits: it says nothing more, and hangs up when they do. */
    public function isAwaited(): bool
    {
        $read = [$this->connection];
        $none = null;

        return stream_select($read, $none, $none, 0) === 0 || !(fread($this->connection, 1) === '' && feof($this->connection));
    }

    /** @return bool whether the web server still takes it */
    public function write(string $text): bool
    {
        foreach (str_split($text, self::MOST_CONTENT_BYTES) as $part) {
            if (!$this->record(self::STDOUT, $part)) {
                return false;
            }
        }

        return true;
    }

    public function end(): void
    {
        if ($this->record(self::STDOUT, '')) {
            $this->record(self::END, pack('NCx3', 0, 0));
        }
        fclose($this->connection);
    }

    /** Without the end of the protocol, so that the web server knows that the answer is not whole and says so to whoever waits. */
    public function breakOff(): void
    {
        fclose($this->connection);
    }

    private function record(int $type, string $content): bool
    {
        $bytes = pack('CCnnCx', self::VERSION, $type, $this->id, strlen($content), 0) . $content;
        while ($bytes !== '') {
            $written = @fwrite($this->connection, $bytes);
            if ($written === false || $written === 0) {
                return false;
            }
            $bytes = substr($bytes, $written);
        }

        return true;
    }

    /** @param resource $connection */
    private static function bytes($connection, int $count): ?string
    {
        $bytes = '';
        while (strlen($bytes) < $count) {
            $more = fread($connection, max(1, $count - strlen($bytes)));
            if ($more === false || $more === '') {
                return null;
            }
            $bytes .= $more;
        }

        return $bytes;
    }

    /** @return array<string, string> lengths of one byte, or of four with the first bit set, then name and value */
    private static function pairs(string $bytes): array
    {
        $pairs = [];
        $at = 0;
        $length = static function () use ($bytes, &$at): int {
            $first = ord($bytes[$at] ?? "\0");
            if ($first < 0x80) {
                ++$at;

                return $first;
            }
            $long = unpack('N', str_pad(substr($bytes, $at, 4), 4, "\0"));
            $at += 4;

            return is_array($long) ? Scalar::int($long[1]) & 0x7fffffff : 0;
        };
        while ($at < strlen($bytes)) {
            $nameLength = $length();
            $valueLength = $length();
            $pairs[substr($bytes, $at, $nameLength)] = substr($bytes, $at + $nameLength, $valueLength);
            $at += $nameLength + $valueLength;
        }

        return $pairs;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Symfony\Component\Mailer\Exception\TransportException;
use Symfony\Component\Mailer\Transport\Smtp\Stream\AbstractStream;
use Symfony\Component\Mailer\Transport\Smtp\Stream\SocketStream;

/** The connection to a mail server, on which a whole mail must be through in time: one that answers a letter a second is away. */
final class BoundedStream extends AbstractStream
{
    private const CONNECT_SHARE = 0.5;
    private const LONGEST_LINE = 65_536;
    private const LOOK_AGAIN_SECONDS = 0.2;
    private float $until = 0.0;
    private float $seconds = 0.0;
    private string $read = '';

    public function __construct(private string $host = 'localhost', private int $port = 25, private bool $isTls = true, private ?SocketStream $like = null)
    {
    }

    /** From now on it must come to its end within so many seconds. */
    public function begin(float $seconds): void
    {
        $this->seconds = $seconds;
        $this->until = microtime(true) + $seconds;
    }

    public function setHost(string $host): void
    {
        $this->host = $host;
    }

    public function setPort(int $port): void
    {
        $this->port = $port;
    }

    public function getHost(): string
    {
        return $this->host;
    }

    public function getPort(): int
    {
        return $this->port;
    }

    public function disableTls(): void
    {
        $this->isTls = false;
    }

    public function isTLS(): bool
    {
        return $this->isTls;
    }

    public function initialize(): void
    {
        $options = $this->like?->getStreamOptions() ?? [];
        $ssl = is_array($options['ssl'] ?? null) ? $options['ssl'] : [];
        $options['ssl'] = $ssl + ['crypto_method' => STREAM_CRYPTO_METHOD_TLSv1_2_CLIENT | STREAM_CRYPTO_METHOD_TLSv1_3_CLIENT];
        // A mail is written in small pieces: held back until the former is acknowledged, each mail would take 40 ms longer.
        $options['socket'] = ['tcp_nodelay' => true];
        if ($this->like?->getSourceIp() !== null) {
            $options['socket']['bindto'] = "{$this->like->getSourceIp()}:0";
        }
        $wait = max(1.0, self::CONNECT_SHARE * $this->seconds);
        $url = ($this->isTls ? 'ssl://' : 'tcp://') . "{$this->host}:{$this->port}";
        $stream = self::loudly(
            "{$this->host}:{$this->port} does not answer",
            static fn() => stream_socket_client($url, $code, $message, $wait, STREAM_CLIENT_CONNECT, stream_context_create($options)),
        );
        if (!is_resource($stream)) {
            throw new TransportException("{$this->host}:{$this->port} does not answer");
        }
        stream_set_timeout($stream, (int) ceil($wait));
        $this->stream = $this->in = $this->out = $stream;
    }

    public function startTLS(): bool
    {
        $stream = $this->stream;
        \assert(is_resource($stream));

        return self::loudly('No encrypted connection came about', static fn() => stream_socket_enable_crypto($stream, true)) === true;
    }

    public function terminate(): void
    {
        if (is_resource($this->stream)) {
            fclose($this->stream);
        }
        parent::terminate();
    }

    public function write(string $bytes, bool $debug = true): void
    {
        $to = $this->in;
        \assert(is_resource($to));
        stream_set_blocking($to, false);
        try {
            $this->writeWhole($to, $bytes);
        } finally {
            stream_set_blocking($to, true);
        }
    }

    public function readLine(): string
    {
        \assert(is_resource($this->out));
        stream_set_blocking($this->out, false);
        try {
            $line = $this->lineOf($this->out);
        } finally {
            stream_set_blocking($this->out, true);
        }
        $this->read .= gmdate('[H:i:s]') . " < {$line}";

        return $line;
    }

    public function getDebug(): string
    {
        $debug = $this->read;
        $this->read = '';

        return $debug;
    }

    protected function getReadConnectionDescription(): string
    {
        return "{$this->host}:{$this->port}";
    }

    /** @param resource $from */
    private function lineOf($from): string
    {
        $line = '';
        while (!str_ends_with($line, "\n")) {
            $left = strlen($line) > self::LONGEST_LINE ? 0.0 : $this->left();
            if ($left <= 0) {
                throw new TransportException(sprintf('%s:%d did not answer within %.0f s', $this->host, $this->port, $this->seconds));
            }
            $piece = @fgets($from);
            if ($piece !== false && $piece !== '') {
                $line .= $piece;

                continue;
            }
            if (feof($from)) {
                throw new TransportException("{$this->host}:{$this->port} closed the connection");
            }
            self::waitFor([$from], [], $left);
        }

        return $line;
    }

    /** @param resource $to */
    private function writeWhole($to, string $bytes): void
    {
        while ($bytes !== '') {
            $left = $this->left();
            if ($left <= 0) {
                throw new TransportException(sprintf('%s:%d took no more within %.0f s', $this->host, $this->port, $this->seconds));
            }
            $written = @fwrite($to, $bytes);
            if ($written === false) {
                throw new TransportException("{$this->host}:{$this->port} closed the connection");
            }
            $bytes = substr($bytes, $written);
            if ($written === 0) {
                self::waitFor([], [$to], min($left, self::LOOK_AGAIN_SECONDS));
            }
        }
    }

    private function left(): float
    {
        return $this->until - microtime(true);
    }

    /**
     * @param list<resource> $read
     * @param list<resource> $write
     */
    private static function waitFor(array $read, array $write, float $seconds): void
    {
        $none = null;
        @stream_select($read, $write, $none, (int) $seconds, (int) (1e6 * ($seconds - (int) $seconds)));
    }

    /**
     * What PHP would only warn of is why it failed.
     *
     * @template T
     *
     * @param \Closure(): T $do
     *
     * @return T
     */
    private static function loudly(string $what, \Closure $do): mixed
    {
        set_error_handler(static function (int $level, string $message) use ($what): never {
            throw new TransportException("{$what}: " . preg_replace('~^[a-z_]+\(\): ~', '', $message));
        });
        try {
            return $do();
        } finally {
            restore_error_handler();
        }
    }
}

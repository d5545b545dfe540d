<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Check\Tls\ReadCertificates;
use React\EventLoop\LoopInterface;
use React\Promise\Deferred;
use React\Promise\PromiseInterface;
use React\Socket\Connection;
use React\Socket\ConnectionInterface;

/** Agrees on TLS with whoever it is, and looks at what was shown; whether anybody vouches for it is told, not required. */
final readonly class TlsHandshake
{
    private const KNOWN_BY = '/etc/ssl/certs/ca-certificates.crt';

    public function __construct(private LoopInterface $loop)
    {
    }

    /**
     * @param string $name whom is asked for
     *
     * @return PromiseInterface<ShownCertificates>
     */
    public function of(ConnectionInterface $connection, string $name): PromiseInterface
    {
        /** @var Deferred<ShownCertificates> $result */
        $result = new Deferred();
        $stream = $connection instanceof Connection ? $connection->stream : null;
        if (!is_resource($stream)) {
            $result->reject(new ScrapeRefused('The target closed the connection without a whole answer'));

            return $result->promise();
        }
        $connection->pause();
        stream_context_set_option($stream, ['ssl' => [
            'verify_peer' => false,
            'verify_peer_name' => false,
            'capture_peer_cert_chain' => true,
            'SNI_enabled' => true,
            'peer_name' => $name,
            'security_level' => 0,
        ]]);
        $step = function () use ($stream, $result): void {
            if (!is_resource($stream)) {
                return;
            }
            error_clear_last();
            $isAgreed = @stream_socket_enable_crypto($stream, true, STREAM_CRYPTO_METHOD_TLS_CLIENT);
            if ($isAgreed === 0) {
                return;
            }
            $this->loop->removeReadStream($stream);
            if ($isAgreed === true) {
                $result->resolve(self::shown($stream));
            } else {
                $result->reject(new \RuntimeException('SSL: ' . (error_get_last()['message'] ?? 'no agreement')));
            }
        };
        // Whoever closes the connection lets go of what is listened to here.
        $connection->on('close', fn() => $this->loop->removeReadStream($stream));
        $this->loop->addReadStream($stream, $step);
        $step();

        return $result->promise();
    }

    /** @param resource $stream */
    private static function shown($stream): ShownCertificates
    {
        $options = stream_context_get_options($stream)['ssl'] ?? [];
        $shown = is_array($options) && is_array($options['peer_certificate_chain'] ?? null) ? $options['peer_certificate_chain'] : [];
        $chain = $certificates = [];
        foreach (array_slice($shown, 0, 12) as $one) {
            $read = $one instanceof \OpenSSLCertificate ? ReadCertificates::read($one) : null;
            if ($read !== null && $one instanceof \OpenSSLCertificate) {
                [$chain[], $certificates[]] = [$read, $one];
            }
        }
        $protocol = stream_get_meta_data($stream)['crypto']['protocol'] ?? '';

        return new ShownCertificates($chain, self::isTrusted($certificates), $protocol);
    }

    /** @param list<\OpenSSLCertificate> $chain */
    private static function isTrusted(array $chain): ?bool
    {
        if ($chain === [] || !is_file(self::KNOWN_BY)) {
            return null;
        }
        $between = tempnam(sys_get_temp_dir(), 'olivine-chain-');
        $text = '';
        foreach ($chain as $one) {
            openssl_x509_export($one, $pem);
            $text .= Scalar::text($pem);
        }
        file_put_contents((string) $between, $text);
        try {
            $is = openssl_x509_checkpurpose($chain[0], X509_PURPOSE_SSL_SERVER, [self::KNOWN_BY], (string) $between);

            return is_bool($is) ? $is : null;
        } finally {
            unlink((string) $between);
        }
    }
}

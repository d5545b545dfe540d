<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\Definition\DnsFields;
use Olivine\App\Collect\Definition\PingFields;
use Olivine\App\Collect\Definition\TcpFields;
use Olivine\App\Collect\Definition\TlsFields;
use Olivine\App\Collect\Definition\ValueFields;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Dns\DnsCheck;
use Olivine\Core\Check\Expect\BadExpectation;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Http\NamedValue;
use Olivine\Core\Check\Ping\PingCheck;
use Olivine\Core\Check\Tcp\TcpCheck;
use Olivine\Core\Check\Tls\TlsCheck;

/** What people wrote of ports, certificates and name servers, as what the core judges by. */
final class SocketChecks
{
    /** Nobody but root may send them more closely. */
    private const GAP_SECONDS = 0.2;

    /** @throws Problem naming the field and what it must be */
    public static function tcp(TcpFields $fields, ?int $slowMs): TcpCheck
    {
        self::address($fields->host, $fields->port);
        try {
            $expects = Expectation::of($fields->expects, hasStatus: false);
        } catch (BadExpectation $error) {
            throw Problem::field('asks.expects', $error->getMessage());
        }

        return new TcpCheck(
            $fields->host,
            $fields->port,
            strtr($fields->send, ['\r' => "\r", '\n' => "\n", '\t' => "\t", '\0' => "\0"]),
            $expects,
            trim($fields->expects) !== '' || $fields->values !== [],
            (int) ($fields->patienceSeconds * 1000),
            $slowMs,
            array_map(static fn(ValueFields $value): NamedValue => NamedValues::value($value, 'asks.values'), $fields->values),
        );
    }

    /** @throws Problem naming the field and what it must be */
    public static function tls(TlsFields $fields): TlsCheck
    {
        self::address($fields->host, $fields->port);
        $name = $fields->name === '' ? trim($fields->host, '[]') : $fields->name;

        return new TlsCheck($fields->host, $fields->port, $name, (int) ($fields->patienceSeconds * 1000), $fields->mayBeOurs);
    }

    /** @throws Problem naming the field and what it must be */
    public static function dns(DnsFields $fields, ?int $slowMs): DnsCheck
    {
        if (preg_match('~^[\x21-\x7E]{1,253}$~D', $fields->name) !== 1) {
            throw Problem::field('asks.name', 'The name to look up must be one such as www.saltmarsh.example');
        }
        foreach ($fields->servers as $server) {
            if (self::server($server) === null) {
                throw Problem::field('asks.servers', "A name server is an address such as 192.0.2.53 or 192.0.2.53:5353, not {$server}");
            }
        }

        return new DnsCheck(
            rtrim($fields->name, '.'),
            $fields->type->value,
            $fields->servers,
            $fields->expects,
            (int) ($fields->patienceSeconds * 1000),
            $slowMs,
        );
    }

    /** @throws Problem naming the field and what it must be */
    public static function ping(PingFields $fields, ?int $slowMs): PingCheck
    {
        self::address($fields->host, 80);

        return new PingCheck(
            $fields->host,
            $fields->count,
            self::GAP_SECONDS,
            $fields->mostLoss,
            (int) ($fields->patienceSeconds * 1000),
            $slowMs,
        );
    }

    /** @return array{string, int}|null address and port */
    public static function server(string $server): ?array
    {
        $isAddress = static fn(string $text): bool => filter_var($text, FILTER_VALIDATE_IP) !== false;
        if ($isAddress(trim($server, '[]'))) {
            return [trim($server, '[]'), 53];
        }
        $found = preg_match('~^\[?([^\]]+?)\]?:(\d{1,5})$~D', $server, $part) === 1 && $isAddress($part[1]);

        return $found && (int) $part[2] > 0 && (int) $part[2] < 65_536 ? [$part[1], (int) $part[2]] : null;
    }

    /** @throws Problem naming the field and what it must be */
    public static function address(string $host, int $port, string $field = 'host'): TargetAddress
    {
        try {
            return TargetAddress::of("http://{$host}:{$port}/");
        } catch (BadAddress) {
            throw Problem::field("asks.{$field}", "{$field} must be a name such as mail-1 or an address such as 192.0.2.7; one of the newer kind in []");
        }
    }
}

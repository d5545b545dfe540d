<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Platform\OneLine;

/** Why a request came to nothing, in words that say what to look at. */
final class TransportFault
{
    public static function words(string $message): string
    {
        return match (true) {
            str_contains($message, 'Connection refused'),
            str_contains($message, "Couldn't connect"),
            str_contains($message, 'Failed to connect'),
            str_contains($message, 'Could not connect')
                => 'Nothing listens at this address: connection refused',
            str_contains($message, 'timed out'),
            str_contains($message, 'Max duration'),
            str_contains($message, 'timeout')
                => 'No whole answer in time: timed out',
            str_contains($message, 'Empty reply'),
            str_contains($message, 'reset by peer'),
            str_contains($message, 'ransfer closed')
                => 'The target closed the connection without a whole answer',
            str_contains($message, 'resolve host') => 'The name of the host is not known',
            str_contains($message, 'HTTP/0.9'),
            str_contains($message, 'Weird server'),
            str_contains($message, 'nvalid') && str_contains($message, 'status line')
                => 'What listens at this address does not speak HTTP',
            str_contains($message, 'wrong version number'),
            str_contains($message, 'packet length too long')
                => 'What listens at this address does not speak TLS; perhaps http is meant, not https',
            str_contains($message, 'has expired') => 'The certificate of the target has expired',
            str_contains($message, 'self-signed'),
            str_contains($message, 'self signed')
                => 'The certificate of the target is signed by itself, so nobody vouches for it',
            str_contains($message, 'unable to get local issuer'),
            str_contains($message, 'unable to verify')
                => 'The certificate of the target is signed by nobody this machine knows',
            str_contains($message, 'does not match'),
            str_contains($message, 'no alternative certificate')
                => 'The certificate of the target is for another name',
            str_contains($message, 'SSL'),
            str_contains($message, 'TLS'),
            str_contains($message, 'certificate')
                => 'The target and Olivine could not agree on a secure connection',
            default => 'The request failed: ' . mb_substr(OneLine::of($message), 0, 300),
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Reach;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Delivery\Definition\ChannelFields;
use Olivine\App\Platform\Problem;

/** Addresses of other programs and the secrets they are spoken to with, as people enter them. */
final readonly class SignedAddresses
{
    public function __construct(private Credentials $seals, private Reach $reach)
    {
    }

    /** @throws Problem naming the field, where it is none, or leads to where nothing may be asked */
    public function checked(string $url, string $field = 'url'): string
    {
        try {
            $address = TargetAddress::of($url);
        } catch (BadAddress $error) {
            throw Problem::field($field, "{$field} {$error->getMessage()}");
        }
        $refusal = $this->reach->refuseEarly($address);

        return $refusal === null ? $address->url() : throw Problem::field($field, $refusal);
    }

    /** @throws Problem where it is too short */
    public function sealed(#[\SensitiveParameter] string $secret): string
    {
        $least = ChannelFields::SHORTEST_SECRET;

        return strlen($secret) >= $least
            ? $this->seals->sealText($secret)
            : throw Problem::field('secret', "secret must have at least {$least} characters, or be left out, and one is made up");
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

/** How a target knows that we may ask it. Never shown again once it is kept. */
final readonly class Credential
{
    /**
     * @param string $name   user, header name or, for a certificate, its PEM text
     * @param string $secret password, token, header value or the PEM text of the key
     */
    public function __construct(public CredentialKind $kind, public string $name, #[\SensitiveParameter] public string $secret)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Entity\Target;

/** What is filled into the requests of checks and shown to nobody, sealed together with the servers it was entered for. */
final readonly class CheckSecrets
{
    public function __construct(private Credentials $credentials)
    {
    }

    public function open(Target $target): OpenSecrets
    {
        $plain = $target->secrets === null ? '' : $this->credentials->openText($target->secrets);
        /** @var array{values?: array<string, string>, origins?: list<string>} $kept */
        $kept = json_decode($plain === '' ? '{}' : $plain, true, 4, JSON_THROW_ON_ERROR);

        return new OpenSecrets($kept['values'] ?? [], $kept['origins'] ?? []);
    }

    public function seal(Target $target, OpenSecrets $secrets): void
    {
        $target->secrets = $secrets->values === []
            ? null
            : $this->credentials->sealText(
                json_encode(['values' => $secrets->values, 'origins' => $secrets->origins], JSON_THROW_ON_ERROR),
            );
    }
}

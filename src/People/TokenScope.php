<?php

declare(strict_types=1);

namespace Olivine\App\People;

/** What a token may change; reading it always may, as far as the person who made it. People, settings and tokens are changed by people only. */
enum TokenScope: string
{
    case Incidents = 'incidents';
    case Rules = 'rules';
    case Delivery = 'delivery';
    case Fleet = 'fleet';

    /** @return bool whether it covers an address */
    public function covers(string $path): bool
    {
        $areas = match ($this) {
            self::Incidents => ['incidents'],
            self::Rules => ['rules', 'rule-drafts'],
            self::Delivery => ['plan', 'messages', 'webhooks'],
            self::Fleet => ['targets', 'groups', 'import', 'limits'],
        };

        return preg_match('~^/api/(?:' . implode('|', $areas) . ')(?:/|$)~D', $path) === 1;
    }
}

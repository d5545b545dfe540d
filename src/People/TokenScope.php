<?php

declare(strict_types=1);

namespace Olivine\App\People;

/** What a token may change; reading it may, as far as the person who made it. People, settings and tokens are changed by people only. */
enum TokenScope: string
{
    case Incidents = 'incidents';
    case Rules = 'rules';
    case Delivery = 'delivery';
    case Fleet = 'fleet';
    /** Handing readings in. A token for nothing else lies about in many scripts, so it does not read either. */
    case Readings = 'readings';

    /** @return bool whether it covers an address */
    public function covers(string $path): bool
    {
        $areas = match ($this) {
            self::Incidents => ['incidents'],
            self::Rules => ['rules', 'rule-drafts'],
            self::Delivery => ['plan', 'messages', 'webhooks'],
            self::Fleet => ['targets', 'groups', 'import', 'limits', 'checks', 'jobs'],
            self::Readings => ['pushed'],
        };

        return preg_match('~^/api/(?:' . implode('|', $areas) . ')(?:/|$)~D', $path) === 1;
    }
}

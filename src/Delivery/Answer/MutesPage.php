<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** All that hushes now, or will. */
final readonly class MutesPage
{
    /** @param list<ShownMute> $mutes those first that hush now, then those that come next */
    public function __construct(public string $words, public string $zone, public array $mutes)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** Why nobody expects readings at an instant, and what that makes of an alert. */
final readonly class Rest
{
    private function __construct(public string $words, public bool $endsAlerts)
    {
    }

    /** Somebody paused or removed what would bring them: what was raised ends, quietly. */
    public static function taken(string $words): self
    {
        return new self($words, true);
    }

    /** Nobody looked, because Olivine itself stood still: every alert stays as it was, and nothing is missed. */
    public static function unwatched(): self
    {
        return new self('Olivine itself stood still', false);
    }
}

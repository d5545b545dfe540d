<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

/** How far a cover has come: only what was accepted or set takes place. */
enum CoverState: string
{
    case Asked = 'asked';
    case Accepted = 'accepted';
    case Declined = 'declined';
    case Withdrawn = 'withdrawn';
    case Set = 'set';

    public function takesPlace(): bool
    {
        return $this === self::Accepted || $this === self::Set;
    }
}

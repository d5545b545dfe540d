<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

/** How grave it is that somebody might not hear. */
enum FaultGrade: string
{
    /** Nobody would hear at all. */
    case Nobody = 'nobody hears';
    /** A rung reaches nobody, and the next one is climbed at once. */
    case FallsThrough = 'falls through';
    /** All is as it should be, and one thing that breaks would be enough. */
    case Weak = 'weak';

    public function rank(): int
    {
        return (int) array_search($this, self::cases(), true);
    }
}

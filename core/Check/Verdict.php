<?php

declare(strict_types=1);

namespace Olivine\Core\Check;

/**
 * How a service stands, seen from outside: in three honest states, and one for "we do not know".
 *
 * A ticket shop that opens but does not let anybody log in *runs partly*; one whose server answers nothing, or only that it
 * cannot, is *down*; one that we were not allowed to ask is *unknown*, and that is not the same as well.
 */
enum Verdict: string
{
    case Runs = 'runs';
    case Partly = 'partly';
    case Down = 'down';
    case Unknown = 'unknown';

    /** The short word on a page. */
    public function word(): string
    {
        return match ($this) {
            self::Runs => 'runs',
            self::Partly => 'runs, but something it did failed',
            self::Down => 'down',
            self::Unknown => 'unknown',
        };
    }

    public function worse(self $other): self
    {
        return $this->grade() >= $other->grade() ? $this : $other;
    }

    private function grade(): int
    {
        return match ($this) {
            self::Runs => 0,
            self::Unknown => 1,
            self::Partly => 2,
            self::Down => 3,
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** Places that reach nothing of what is always up, so what they say of anything else is held. */
final readonly class CutOff
{
    /**
     * @param list<string> $places the names of them
     * @param int          $since  when the first of them was
     * @param bool         $isAll  we are the ones who are cut off: no place is left that could tell
     */
    public function __construct(public array $places, public int $since, public bool $isAll)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** How many of the last looks must be past a limit: 3 of 5, or with 9 of 10 nearly all of the time. */
final readonly class Counting
{
    private const MOST = 240;

    /** @throws BadRule naming the field that cannot be so */
    public function __construct(public int $need, public int $of)
    {
        if ($need < 1 || $of > self::MOST || $need > $of) {
            throw new BadRule('counting', 'must be some of the last looks: at least 1, at most ' . self::MOST . ', such as 3 of 5');
        }
    }

    /** `3 of the last 5 looks`. */
    public function words(): string
    {
        return "{$this->need} of the last {$this->of} looks";
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

/** Between which values one of the lines of a replay is as usual as its rule asks for. */
final readonly class UsualRange
{
    /**
     * @param list<float|null> $high
     * @param int              $line Its place among the lines
     * @param list<float|null> $low
     */
    public function __construct(public array $high, public int $line, public array $low)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** A time of trouble of a series: what was read in it says nothing of what is usual. */
final readonly class UnusualSpan
{
    /**
     * @param int $knownMs   from when on it was known to be one
     * @param int $fromMs    its first instant
     * @param int $throughMs its last instant, or PHP_INT_MAX while it lasts
     */
    public function __construct(public int $knownMs, public int $fromMs, public int $throughMs = PHP_INT_MAX)
    {
    }
}

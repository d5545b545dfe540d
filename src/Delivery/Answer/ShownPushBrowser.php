<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** A browser that lets itself be told. */
final readonly class ShownPushBrowser
{
    /** @param string $mark by which it knows itself: SHA-256 of its endpoint */
    public function __construct(public int $id, public string $label, public Instant $at, public string $mark)
    {
    }
}

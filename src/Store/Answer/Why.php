<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

/** Why a formula brings nothing, the name that was perhaps meant, and when there was something last. */
final readonly class Why
{
    public function __construct(public string $words, public ?string $suggestion = null, public ?int $newest = null)
    {
    }
}

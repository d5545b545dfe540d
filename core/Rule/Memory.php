<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** What a condition keeps of one label set from one instant to the next; only the condition knows what its numbers mean. */
final readonly class Memory
{
    /** @param list<float> $numbers */
    public function __construct(public array $numbers = [])
    {
    }

    public static function none(): self
    {
        return new self();
    }
}

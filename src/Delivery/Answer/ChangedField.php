<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What is otherwise of a part of a plan, in words; empty: it is not set. */
final readonly class ChangedField
{
    public function __construct(public string $field, public string $was, public string $now)
    {
    }
}

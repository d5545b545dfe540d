<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Sentence;

use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Together;

/** All that a sentence says. */
final readonly class Raising
{
    public function __construct(public Condition $condition, public Holding $holding, public ?Together $together)
    {
    }
}

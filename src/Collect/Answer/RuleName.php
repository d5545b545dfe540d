<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Rule\Severity;

final readonly class RuleName
{
    public function __construct(public int $id, public string $name, public Severity $severity)
    {
    }
}

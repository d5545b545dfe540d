<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

final readonly class BuildingAlert
{
    public function __construct(public int $raisesAt, public string $rule, public int $ruleId)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Time\Instant;

final readonly class BuildingAlert
{
    public function __construct(public Instant $raisesAt, public string $rule, public int $ruleId)
    {
    }
}

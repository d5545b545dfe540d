<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

final readonly class RuleRow extends Rule
{
    public function __construct(Rule $of, public object $phases, public int $raisedInWeek)
    {
        parent::__construct(...get_object_vars($of));
    }
}

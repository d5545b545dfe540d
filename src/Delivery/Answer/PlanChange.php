<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What is otherwise of one part of a plan. */
final readonly class PlanChange
{
    /**
     * @param string             $kind   `path`, `ladder`, `copy`, `team`
     * @param string             $what   `added`, `changed`, `moved`, `removed`
     * @param list<ChangedField> $fields that are otherwise, in words
     */
    public function __construct(public string $kind, public string $name, public string $what, public array $fields = [])
    {
    }
}

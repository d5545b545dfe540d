<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Rule\Entity\Rule;

/** What an apply would do with one rule. */
final readonly class PlannedRule
{
    /**
     * @param RuleOfFile|null            $file    null: it stands in no file
     * @param Rule|null                  $rule    null: it is not there yet
     * @param array<string, FieldChange> $changes by the key in the file
     * @param list<string>               $users   rules that look at its alerts, where it would go
     */
    public function __construct(
        public Planned $what,
        public string $key,
        public string $name,
        public ?RuleOfFile $file,
        public ?Rule $rule,
        public array $changes = [],
        public array $users = [],
    ) {
    }
}

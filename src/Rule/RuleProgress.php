<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Formula\Printer;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Time\Instant;

/** How far a rule has been evaluated, by which formula, and the turn of its alerts' labels, which changes when a target is called otherwise. */
final readonly class RuleProgress
{
    public function __construct(public Instant $through, public string $formulaHash, public int $turn = 0)
    {
    }

    /** What decides which alerts there are: another formula, or another group, looks at others. */
    public static function hash(Rule $rule): string
    {
        $groups = $rule->together === null ? '' : ' together ' . implode(' ', $rule->together->per);

        return substr(hash('sha256', Printer::print($rule->watched) . $groups), 0, 32);
    }

    public function through(Instant $through): self
    {
        return new self($through, $this->formulaHash, $this->turn);
    }
}

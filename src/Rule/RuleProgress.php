<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Time\Instant;

/** How far a rule has been evaluated, by which formula, and the turn of its alerts' labels, which changes when a target is called otherwise. */
final readonly class RuleProgress
{
    public function __construct(public Instant $through, public string $formulaHash, public int $turn = 0)
    {
    }

    public static function hash(Node $watched): string
    {
        return substr(hash('sha256', Printer::print($watched)), 0, 32);
    }

    public function through(Instant $through): self
    {
        return new self($through, $this->formulaHash, $this->turn);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\App\Rule\Definition\RuleDefinition;

/** The settings that keep the useful alerts of a rule with the fewest others. */
final readonly class Proposal
{
    /**
     * @param TriedSettings|null  $best       Null: nothing that was tried is better
     * @param RuleDefinition|null $definition with them
     * @param int                 $marks      Within the span that was replayed
     * @param string              $words      What it would mean, and how sure that is
     */
    public function __construct(
        public ?TriedSettings $best,
        public ?RuleDefinition $definition,
        public int $marks,
        public TriedSettings $now,
        public float $tookMs,
        public string $words,
    ) {
    }
}

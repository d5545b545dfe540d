<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Rule\BadRule;

/** What can only be told of a rule beside what is there: whether its formula fits what is known, and its name nobody else's. */
final readonly class RuleForm
{
    public function __construct(private RuleRepository $rules, private Checker $checker)
    {
    }

    /**
     * @param Rule|null $self which it would be
     *
     * @throws Problem      naming the field
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    public function check(RuleDefinition $definition, ?Rule $self): void
    {
        $same = $this->rules->named($definition->name);
        if ($same !== null && $same->id !== $self?->id) {
            throw Problem::field('name', "There is a rule named {$definition->name} already");
        }
        $this->checkCondition($definition);
    }

    /**
     * All that decides what it raises; what a replay needs.
     *
     * @throws Problem      naming the field and what it must be
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    public function checkCondition(RuleDefinition $definition): void
    {
        $this->checker->unitOf($definition->core()->watched);
        $isAddress = preg_match('~^[a-z][a-z0-9+.-]*:~i', $definition->runbook) === 1;
        if ($isAddress && preg_match('~^https?://~i', $definition->runbook) !== 1) {
            throw Problem::field('runbook', 'runbook must be a web address (http or https) or plain words');
        }
    }
}

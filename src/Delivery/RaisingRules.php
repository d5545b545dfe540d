<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Entity\RuleRevision;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\Repository\RuleRevisionRepository;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\BadRule;

/** Finds what raised an alert as it was then: the revision that its transition names, also when the rule was changed or removed. */
final readonly class RaisingRules
{
    public function __construct(
        private RuleRepository $rules,
        private RuleRevisionRepository $revisions,
        private RuleDefinitions $definitions,
        private Checker $checker,
    ) {
    }

    /** @return RaisedBy|null null where nobody knows any more, or it cannot be read */
    public function of(int $ruleId, int $revisionId): ?RaisedBy
    {
        $revision = $revisionId > 0 ? $this->revisions->find($revisionId) : $this->rules->find($ruleId)?->inService;

        return $revision === null ? null : $this->read($revision);
    }

    public function inService(Rule $rule): ?RaisedBy
    {
        return $this->read($rule->inService);
    }

    private function read(RuleRevision $revision): ?RaisedBy
    {
        try {
            $rule = $this->definitions->of($revision);

            return new RaisedBy($revision->id(), $rule, $rule->core(), $this->unit($rule->formula));
        } catch (BadRule|FormulaError) {
            return null;
        }
    }

    private function unit(string $formula): string
    {
        try {
            return $this->checker->unitOf(Parser::parse($formula));
        } catch (FormulaError) {
            return '';
        }
    }
}

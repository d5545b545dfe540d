<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Clock;
use Olivine\App\Rule\Answer\Rule as ShownRule;
use Olivine\App\Rule\Answer\RuleRow;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Time\Duration;

/** What the screens show of rules. */
final readonly class RuleView
{
    public function __construct(
        private RuleRepository $rules,
        private RuleProblems $problems,
        private AlertStates $alerts,
        private Transitions $transitions,
        private Checker $checker,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @return list<RuleRow> by name, with what each raised */
    public function rows(): array
    {
        $phases = $this->alerts->phasesByRule();
        $raises = $this->transitions->raisesByRule($this->clock->now()->minus(Duration::ofDays(7)));
        $problems = $this->problems->byRule();

        return array_map(
            fn(Rule $rule): RuleRow => new RuleRow(
                $this->shown($rule, $problems[$rule->id()] ?? null),
                phases: (object) ($phases[$rule->id()] ?? []),
                raisedInWeek: $raises[$rule->id()] ?? 0,
            ),
            $this->rules->byName(),
        );
    }

    public function one(Rule $rule): ShownRule
    {
        return $this->shown($rule, $this->problems->byRule()[$rule->id()] ?? null);
    }

    /** What cannot be evaluated says why before anything else. */
    public function shown(Rule $rule, ?RuleProblem $problem = null): ShownRule
    {
        $formula = $rule->formula;
        $unit = '';
        $fault = null;
        try {
            $tree = Parser::parse($rule->formula);
            $formula = Printer::print($tree);
            $unit = $this->checker->unitOf($tree);
        } catch (FormulaError $error) {
            $fault = $error->getMessage();
        }

        return new ShownRule(
            id: $rule->id(),
            name: $rule->name,
            blindAfterSeconds: $rule->blindAfterSeconds,
            blindSeverity: $rule->blindSeverity,
            lostAfterSeconds: $rule->lostAfterSeconds,
            clearHoldSeconds: $rule->clearHoldSeconds,
            clearLimit: $rule->clearLimit,
            direction: $rule->direction,
            enabled: $rule->enabled,
            brokenSince: $problem?->since,
            fault: $problem->message ?? $fault,
            formula: $formula,
            holdSeconds: $rule->holdSeconds,
            limit: $rule->limit,
            runbook: $rule->runbook,
            service: $rule->service,
            severity: $rule->severity,
            unit: $unit,
            version: $rule->version,
            worseLimit: $rule->worseLimit,
            worseSeverity: $rule->worseSeverity,
        );
    }
}

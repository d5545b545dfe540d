<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Settings;
use Olivine\App\Rule\Answer\Revision;
use Olivine\App\Rule\Answer\Rule as ShownRule;
use Olivine\App\Rule\Answer\RuleRow;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Entity\RuleRevision;
use Olivine\App\Rule\Repository\AlertMarkRepository;
use Olivine\App\Rule\Repository\RuleDraftRepository;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\Repository\RuleRevisionRepository;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Worth;
use Olivine\Core\Time\Duration;

/** What the screens show of rules. */
final readonly class RuleView
{
    private const MOST_REVISIONS = 100;

    public function __construct(
        private RuleRepository $rules,
        private RuleRevisionRepository $revisions,
        private RuleDefinitions $definitions,
        private RuleProblems $problems,
        private AlertStates $alerts,
        private Transitions $transitions,
        private AlertMarkRepository $marks,
        private RuleDraftRepository $drafts,
        private PersonRepository $people,
        private DeliveryRepository $deliveries,
        private Settings $settings,
        private Checker $checker,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @return list<RuleRow> by name, with what each raised */
    public function rows(): array
    {
        $phases = $this->alerts->phasesByRule();
        $now = $this->clock->now();
        $raises = $this->transitions->raisesByRule($now->minus(Duration::ofDays(7)));
        $last = $this->transitions->lastRaiseByRule($now->minus(Duration::ofDays(30)));
        $worth = $this->marks->countedByRule($now->minus(Duration::ofDays(30)));
        $woken = $this->deliveries->sentAtNightByRule($now->minus(Duration::ofDays(30)), $this->settings->zone());
        $drafted = $this->drafts->ofRules();
        $problems = $this->problems->byRule();
        $through = $this->alerts->throughByRule();

        return array_map(
            fn(Rule $rule): RuleRow => new RuleRow(
                $this->shown($rule, $problems[$rule->id()] ?? null),
                draft: in_array($rule->id(), $drafted, true),
                lastRaisedAt: $last[$rule->id()] ?? null,
                lookedThrough: $through[$rule->id()] ?? null,
                noise: $worth[$rule->id()][Worth::Noise->value] ?? 0,
                phases: (object) ($phases[$rule->id()] ?? []),
                raisedInWeek: $raises[$rule->id()] ?? 0,
                useful: $worth[$rule->id()][Worth::Useful->value] ?? 0,
                woken: $woken[$rule->id()] ?? 0,
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
        $definition = $this->definitions->of($rule->inService);
        $unit = '';
        $words = '';
        $severity = null;
        $fault = null;
        try {
            $unit = $this->checker->unitOf(Parser::parse($definition->formula));
            $condition = $definition->condition->core();
            $words = $condition->words($unit);
            $severity = $condition->severity();
        } catch (FormulaError|BadRule $error) {
            $fault = $error->getMessage();
        }

        return new ShownRule(
            id: $rule->id(),
            definition: self::printed($definition),
            enabled: $rule->enabled,
            brokenSince: $problem?->since,
            fault: $problem->message ?? $fault,
            file: $rule->fileName,
            revision: $rule->inService->number,
            severity: $severity ?? Severity::Minor,
            unit: $unit,
            version: $rule->version,
            words: $words,
        );
    }

    /**
     * @return list<Revision> the newest first
     */
    public function revisions(Rule $rule): array
    {
        $names = $this->people->names();

        return array_map(
            fn(RuleRevision $one): Revision => new Revision(
                number: $one->number,
                at: $one->at,
                author: $names[$one->authorId] ?? null,
                definition: $this->definitions->of($one),
                reason: $one->reason,
            ),
            $this->revisions->of($rule->id(), self::MOST_REVISIONS),
        );
    }

    /** With its formula as it is written everywhere. */
    private static function printed(RuleDefinition $definition): RuleDefinition
    {
        try {
            return Parser::hasNames($definition->formula)
                ? $definition
                : $definition->withFormula(Printer::print(Parser::parse($definition->formula)));
        } catch (FormulaError) {
            return $definition;
        }
    }
}

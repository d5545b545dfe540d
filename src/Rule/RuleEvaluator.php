<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\Part;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\PartWork;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\WorkTime;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\RaisedSpells;
use Olivine\Core\Rule\Rule as CoreRule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\TrackedAlert;
use Olivine\Core\Rule\Transition;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * Brings every rule up to the newest settled instant, from where it left off: one that is far behind in parts, each kept
 * when it is done, so that it comes back however long it was away and the others go on meanwhile. A rule that cannot be
 * evaluated is broken: that and why is written down, and it is tried again with growing pauses.
 */
final class RuleEvaluator implements PartWork
{
    private const RELOAD_MS = 1_000;
    /** After a standstill a rule goes back over at most this much. */
    private const CATCH_UP_HOURS = 24;
    /** Some instants take no longer than this, so that no rule holds up the others. */
    private const PART_SECONDS = 0.5;
    /** Whoever takes longer for a single instant can never keep up. */
    private const INSTANT_SECONDS = 3.0;
    /** So long one rule waits for another. */
    private const LONGEST_WAIT_SECONDS = 60;
    private const FIRST_INSTANTS = 40;
    private const MOST_INSTANTS = 1_440;
    private const LOOKED_AT_HOURS = 24;
    private const LOOKED_AT_STEP_MINUTES = 5;
    /** @var array<int, Rule> */
    private array $rules = [];
    /** @var array<int, Instant> rule that is broken → when it is tried again */
    private array $broken = [];
    /** @var array<int, CoreRule> revision → as it works */
    private array $cores = [];
    /** @var array<int, array{RuleProgress, array<string, TrackedAlert>}> how far each rule is, and its alerts */
    private array $states = [];
    /** @var array<int, Instant> rule that has no past of its own yet → the instant at which it begins to speak */
    private array $warming = [];
    /** @var array<int, array{CoreRule, Instant, RaisedSpells}> the midnight up to which it is known when a rule was raised, and when it was */
    private array $raised = [];
    /** @var array<int, int> how many instants of the rule are worked out at once */
    private array $instantsAtOnce = [];
    private HeldSlots $slots;
    private ?Instant $reloadAt = null;
    private float $instants = 0.0;
    private float $skipped = 0.0;
    private float $late = 0.0;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Database $database,
        #[Autowire(service: 'olivine.rules_as_it_was')]
        private readonly RuleEngine $engine,
        private readonly RuleDefinitions $definitions,
        private readonly AlertStates $alerts,
        private readonly Transitions $transitions,
        private readonly RuleProblems $problems,
        private readonly SettledReadings $settled,
        private readonly StoredRests $rests,
        private readonly WorkTime $time,
        private readonly LoggerInterface $logger,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->slots = HeldSlots::none(PartName::Evaluator);
    }

    /** @throws AlertsMoved where the labels of alerts were changed meanwhile */
    public function round(): int
    {
        $now = $this->clock->now();
        if ($this->reloadAt === null || !$now->isBefore($this->reloadAt)) {
            $this->reload($now);
        }
        $settled = $this->settled->at($now->ms);
        // Whether somebody collects is asked after how far that came: a look by the clock then knows why nothing is there.
        $this->rests->forget();
        $until = microtime(true) + Part::ROUND_SECONDS;
        $behind = $this->rules;
        while ($behind !== [] && microtime(true) < $until) {
            foreach ($behind as $id => $rule) {
                if (!$this->tried($rule, $settled)) {
                    unset($behind[$id]);
                }
            }
        }

        return $behind === [] ? 100 : 0;
    }

    /** Another evaluator may have had some of these rules: its states are in the database, ours are old. */
    public function hold(HeldSlots $slots): void
    {
        $this->slots = $slots;
        $this->states = $this->warming = $this->raised = [];
        $this->reloadAt = null;
    }

    public function figures(): array
    {
        return [
            'olivine_rules' => (float) count($this->rules),
            'olivine_rules_broken' => (float) count($this->broken),
            'olivine_rule_instants_total' => $this->instants,
            'olivine_rule_instants_skipped_total' => $this->skipped,
            'olivine_rule_lateness_seconds' => $this->late,
        ];
    }

    /** @throws AlertsMoved */
    private function reload(Instant $now): void
    {
        $this->entities->clear();
        $this->rules = [];
        foreach ($this->entities->getRepository(Rule::class)->findBy(['enabled' => true]) as $rule) {
            if ($this->slots->has($rule->id())) {
                $this->rules[$rule->id()] = $rule;
            }
        }
        $this->cores = array_intersect_key($this->cores, array_column(array_column($this->rules, 'inService'), 'id', 'id'));
        $this->states = array_intersect_key($this->states, $this->rules);
        $this->warming = array_intersect_key($this->warming, $this->rules);
        $this->raised = array_intersect_key($this->raised, $this->rules);
        $this->broken = array_intersect_key($this->problems->next(), $this->rules);
        $this->switchOff($now);
        $this->reloadAt = $now->plus(Duration::ofMs(self::RELOAD_MS));
    }

    /** @return bool whether it went on and is still behind */
    private function tried(Rule $rule, Settled $settled): bool
    {
        $now = $this->clock->now();
        $again = $this->broken[$rule->id()] ?? null;
        if ($again !== null && $again->isAfter($now)) {
            return false;
        }
        try {
            $isBehind = $this->goOn($rule, $settled);
        } catch (AlertsMoved) {
            unset($this->states[$rule->id()]);

            return true;
        } catch (FormulaError|TooMuchToRead|BadRule $error) {
            $this->isBroken($rule, $error->getMessage(), $now);

            return false;
        } catch (\Throwable $error) {
            unset($this->states[$rule->id()]);
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            $this->logger->error('Rule {rule} failed: {exception}', ['rule' => $rule->name, 'exception' => $error]);
            $this->isBroken($rule, 'Olivine failed to evaluate this rule; the log of the evaluator has the reason', $now);

            return false;
        } finally {
            $this->time->end();
        }
        if (isset($this->broken[$rule->id()])) {
            $this->problems->over($rule->id(), $now);
            unset($this->broken[$rule->id()]);
        }

        return $isBehind;
    }

    private function isBroken(Rule $rule, string $message, Instant $now): void
    {
        $id = $rule->id();
        unset($this->states[$id], $this->warming[$id]);
        $this->broken[$id] = $this->database->patiently(fn(): Instant => $this->problems->met($id, $message, $now));
    }

    /**
     * @return bool whether it is still behind
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     * @throws AlertsMoved
     * @throws BadRule
     */
    private function goOn(Rule $rule, Settled $settled): bool
    {
        $id = $rule->id();
        $revision = $rule->inService->id();
        $core = $this->cores[$revision] ??= $this->definitions->of($rule->inService)->core();
        $step = $core->step;
        // Most rounds come before a rule's next instant has settled anywhere: then nothing of it needs to be looked up.
        if (isset($this->states[$id]) && $settled->fastest() < $this->states[$id][0]->through->plus($step)->ms) {
            return false;
        }
        $through = $this->throughFor($core, $settled);
        if (!isset($this->states[$id])) {
            $this->begin($rule, $core, $through);
            unset($this->raised[$id]);
        }
        [$progress, $before] = $this->states[$id];
        $goal = $this->warming[$id] ?? $through;
        if (!$goal->isAfter($progress->through)) {
            return false;
        }
        $after = $progress->through;
        $earliest = $goal->minus(Duration::ofHours(self::CATCH_UP_HOURS));
        if ($after->isBefore($earliest) && !isset($this->warming[$id])) {
            $this->skipped += $earliest->since($after)->steps($step);
            $after = $earliest;
        }
        $first = $after->onStep($step)->plus($step);
        $outcome = $this->part($rule, $core, $before, $first, $goal);
        unset($this->states[$id]);
        $this->keep($rule, $core, $before, $outcome, $progress->through($outcome->through));
        $this->instants += $outcome->through->since($first)->steps($step) + 1;
        $this->late = $this->clock->now()->since($outcome->through)->ms / 1000;

        return $outcome->through->isBefore($goal);
    }

    /**
     * As far as all has come that it looks at. It waits for the rules whose alerts it looks at, but not for ever: one that is
     * stuck must not hold up others.
     *
     * @throws TooMuchToRead
     */
    private function throughFor(CoreRule $core, Settled $settled): Instant
    {
        $through = Instant::ofMs($this->settled->throughFor($core->watched, $settled));
        $others = [...$core->dependsOn, ...Tree::rules($core->watched)];
        if ($others !== []) {
            $reached = $this->alerts->reachedBy($others) ?? $through;
            $through = $through->earlier($reached->later($through->minus(Duration::ofSeconds(self::LONGEST_WAIT_SECONDS))));
        }

        return $through->onStep($core->step);
    }

    /**
     * A rule that is new has a past all the same: whoever was silent when it was saved is missed, and what was past its limit is.
     *
     * @throws BadRule
     * @throws AlertsMoved
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function begin(Rule $rule, CoreRule $core, Instant $through): void
    {
        $id = $rule->id();
        $progress = $this->alerts->progress($id);
        $hash = RuleProgress::hash($core);
        if ($progress === null) {
            $this->warming[$id] = $through;
            $this->states[$id] = [new RuleProgress($through->minus($core->holding->lostAfter), $hash), []];

            return;
        }
        $alerts = $this->alerts->load($id);
        if ($progress->formulaHash !== $hash) {
            $progress = new RuleProgress($progress->through, $hash, $progress->turn);
            $alerts = $this->endUnlooked($rule, $core, $alerts, $progress);
        }
        $this->states[$id] = [$progress, $alerts];
    }

    /**
     * @param array<string, TrackedAlert> $before
     *
     * @throws TooMuchToRead
     */
    private function part(Rule $rule, CoreRule $core, array $before, Instant $first, Instant $goal): Outcome
    {
        $id = $rule->id();
        $instants = $this->instantsAtOnce[$id] ?? self::FIRST_INSTANTS;
        $last = $goal->earlier($first->plus($core->step->times($instants - 1)));
        $raised = $this->raisedBefore($id, $core, $first);
        $began = hrtime(true);
        $this->time->begin(self::INSTANT_SECONDS);
        try {
            $outcome = $this->database->snapshot(
                fn(): Outcome => $this->engine->part($core, $before, $first, $last, $raised),
            );
        } catch (TooMuchToRead $error) {
            if ($last === $first) {
                throw $error;
            }
            $this->instantsAtOnce[$id] = max(1, intdiv($instants, 4));

            return $this->part($rule, $core, $before, $first, $goal);
        }
        $seconds = (hrtime(true) - $began) / 1e9;
        $done = $outcome->through->since($first)->steps($core->step) + 1;
        $this->instantsAtOnce[$id] = max(
            1,
            min(self::MOST_INSTANTS, 2 * $instants, (int) (($done * self::PART_SECONDS) / max(0.001, $seconds))),
        );

        return $outcome;
    }

    /** What is usual goes by what was known at midnight: until the next one it is looked up once. */
    private function raisedBefore(int $ruleId, CoreRule $core, Instant $at): ?RaisedSpells
    {
        if ($core->remembersSpells() === null) {
            return null;
        }
        $midnight = $at->onStep(Duration::ofDays(1));
        [$of, $known, $raised] = $this->raised[$ruleId] ?? [null, null, null];
        if ($raised === null || $of !== $core || $known?->ms !== $midnight->ms) {
            $raised = $this->transitions->spells($ruleId, $core, $midnight, $midnight);
            $this->raised[$ruleId] = [$core, $midnight, $raised];
        }

        return $raised;
    }

    /**
     * @param array<string, TrackedAlert> $before
     *
     * @throws AlertsMoved
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function keep(Rule $rule, CoreRule $core, array $before, Outcome $outcome, RuleProgress $progress): void
    {
        $id = $rule->id();
        if (isset($this->warming[$id])) {
            if ($outcome->through->isBefore($this->warming[$id])) {
                $this->states[$id] = [$progress, $outcome->alerts];

                return;
            }
            // What it would have said before it was there is said by nobody, but how things stand now is.
            $opening = $this->engine->opening($core, $outcome->alerts, $outcome->through);
            $outcome = new Outcome($outcome->alerts, $opening, $outcome->through);
            $before = [];
        }
        $this->alerts->save($id, $rule->inService->id(), $before, $outcome, $progress);
        unset($this->warming[$id]);
        $this->states[$id] = [$progress, $outcome->alerts];
    }

    /**
     * A rule that looks at something else now: what it does not look at any more ends, quietly.
     *
     * @param array<string, TrackedAlert> $alerts
     *
     * @return array<string, TrackedAlert> those that are left
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     * @throws AlertsMoved
     */
    private function endUnlooked(Rule $rule, CoreRule $core, array $alerts, RuleProgress $progress): array
    {
        $ended = [];
        foreach ($alerts as $key => $alert) {
            if (
                !$this->engine->looksAt(
                    $core,
                    $alert->labels,
                    $progress->through->minus(Duration::ofHours(self::LOOKED_AT_HOURS)),
                    $progress->through,
                    Duration::ofMinutes(self::LOOKED_AT_STEP_MINUTES),
                )
            ) {
                $ended[$key] = $alert;
            }
        }
        $left = array_diff_key($alerts, $ended);
        $this->end(
            $rule->id(),
            $rule->inService->id(),
            $ended,
            'the rule was changed and does not look at it any more' . $this->by($rule->name),
            $progress,
        );

        return $left;
    }

    /**
     * Rules that somebody switched off: what they had raised ends, quietly, and switched on again they begin anew.
     *
     * @throws AlertsMoved
     */
    private function switchOff(Instant $now): void
    {
        $off = $this->database->connection->fetchAllNumeric(
            'SELECT r.id, r.name, r.in_service_id FROM rule r JOIN rule_progress p ON p.rule_id = r.id WHERE r.enabled = 0',
        );
        foreach ($off as [$id, $name, $revision]) {
            $id = Scalar::int($id);
            $progress = $this->slots->has($id) ? $this->alerts->progress($id) : null;
            if ($progress !== null) {
                $this->end(
                    $id,
                    Scalar::int($revision),
                    $this->alerts->load($id),
                    'the rule was switched off' . $this->by(Scalar::text($name)),
                    $progress->through($progress->through->later($now)),
                );
                $this->alerts->forget($id);
                $this->problems->over($id, $now);
            }
        }
    }

    /**
     * @param array<string, TrackedAlert> $ended
     *
     * @throws AlertsMoved
     */
    private function end(int $ruleId, int $revisionId, array $ended, string $why, RuleProgress $progress): void
    {
        $transitions = [];
        foreach ($ended as $alert) {
            $state = $alert->state;
            if ($state->phase !== Phase::Calm) {
                $transitions[] = new AlertTransition(
                    $alert->labels,
                    new Transition(
                        $progress->through,
                        $state->phase,
                        Phase::Ended,
                        $state->severity,
                        null,
                        $state->onset,
                        $why,
                    ),
                );
            }
        }
        $this->alerts->save($ruleId, $revisionId, $ended, new Outcome([], $transitions, $progress->through), $progress);
    }

    /** ` by Ines Duarte`, by the audit of the rule. */
    private function by(string $rule): string
    {
        $name = $this->database->connection->fetchOne(
            'SELECT p.name FROM audit_entry a JOIN person p ON p.id = a.person_id WHERE a.subject = ? ORDER BY a.id DESC LIMIT 1',
            [mb_substr("rule {$rule}", 0, 120)],
        );

        return $name === false ? '' : ' by ' . Scalar::text($name);
    }
}

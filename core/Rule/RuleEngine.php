<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\EndlessPatience;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Patience;
use Olivine\Core\Formula\Steady;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Drives all alerts of a rule over the instants of a span. A rule looks at whole multiples of its step, so where
 * a run begins or ends changes nothing: one instant live, a day after a standstill or a fortnight of replay
 * give the same transitions from the same readings.
 */
final readonly class RuleEngine
{
    private const CHUNK_INSTANTS = 1_440;
    private const DAY_MS = 86_400_000;
    private const MOST_SWEPT = 4_000;
    /** A span as long as so many chunks is worth a look at its hours. */
    private const LONG_CHUNKS = 3;

    /** @param Patience $patience of whoever waits */
    public function __construct(private Sight $sight, private Rests $rests = new NobodyRests(), private Patience $patience = new EndlessPatience())
    {
    }

    /**
     * @param array<string, TrackedAlert>    $alerts  by the key of their labels
     * @param Instant                        $after   the last instant already done
     * @param (\Closure(Instant): void)|null $reached is told how far it has come, part by part
     * @param RaisedSpells|null              $raised  spells that say nothing of what is usual; null: those of this run, as they come
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where a single instant would take too much
     */
    public function run(
        Rule $rule,
        array $alerts,
        Instant $after,
        Instant $through,
        ?\Closure $reached = null,
        ?RaisedSpells $raised = null,
    ): Outcome {
        $once = $this->forOneRun();
        $transitions = [];
        $first = $after->onStep($rule->step)->plus($rule->step);
        $hours = $once->hours([$rule], $first, $through);
        while (!$first->isAfter($through)) {
            $part = $once->partOf($rule, $alerts, $first, $through, $hours, $raised ?? self::raisedIn($transitions, $rule));
            $alerts = $part->alerts;
            array_push($transitions, ...$part->transitions);
            $first = $part->through->plus($rule->step);
            if ($reached !== null) {
                $reached($part->through);
            }
        }
        usort(
            $transitions,
            static fn(AlertTransition $a, AlertTransition $b): int => $a->transition->at->ms <=> $b->transition->at->ms,
        );

        return new Outcome($alerts, $transitions, $through);
    }

    /**
     * The first instants of a span, as many as may be worked out at once: whoever is far behind goes on in parts, and
     * keeps what is done.
     *
     * @param array<string, TrackedAlert> $alerts by the key of their labels
     * @param Instant                     $first  a whole multiple of the step
     * @param RaisedSpells|null           $raised before the midnight before the first instant, at least
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where a single instant would take too much
     */
    public function part(Rule $rule, array $alerts, Instant $first, Instant $through, ?RaisedSpells $raised = null): Outcome
    {
        return $this->partOf($rule, $alerts, $first, $through, null, $raised);
    }

    /** @param list<AlertTransition> $transitions so far */
    private static function raisedIn(array $transitions, Rule $rule): ?RaisedSpells
    {
        return $rule->remembersSpells() !== null ? RaisedSpells::in($transitions, $rule) : null;
    }

    /**
     * @param array<string, TrackedAlert> $alerts
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function partOf(Rule $rule, array $alerts, Instant $first, Instant $through, ?Hours $hours, ?RaisedSpells $raised): Outcome
    {
        return ManyObjects::within(fn(): Outcome => $this->advance($rule, $this->columns([$rule], $first, $through, $hours, $raised), $alerts));
    }

    /**
     * Of a long span, where that can be told from hours.
     *
     * @param non-empty-array<Rule> $rules
     */
    private function hours(array $rules, Instant $first, Instant $through): ?Hours
    {
        $rule = reset($rules);
        $steady = self::steady($rules);
        if ($steady === null || $through->since($first)->ms < self::LONG_CHUNKS * self::CHUNK_INSTANTS * $rule->step->ms) {
            return null;
        }
        [$evaluator, $until] = $this->sight->at($rule->watched, $first->ms, $through->ms);

        return $until < $through->ms ? null : Hours::read($rule, $evaluator, $steady->marginMs, $first, $through);
    }

    /**
     * What several rules that judge by the same inputs would have raised: the readings are looked at once for all of them. What the
     * first of them raises is no part of what is usual, for all of them. One that comes and goes all the time is given up: nobody
     * would want it.
     *
     * @param non-empty-array<T, Rule> $rules alike in all but their limits and their holding
     *
     * @return array<T, Outcome> without those that were given up; the first one never is
     *
     * @template T of array-key
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where a single instant would take too much
     */
    public function sweep(array $rules, Instant $after, Instant $through): array
    {
        return ManyObjects::within(fn(): array => $this->forOneRun()->swept($rules, $after, $through));
    }

    private function forOneRun(): self
    {
        return new self($this->sight->forOneRun(), $this->rests, $this->patience);
    }

    /**
     * @param non-empty-array<T, Rule> $rules
     *
     * @return array<T, Outcome>
     *
     * @template T of array-key
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function swept(array $rules, Instant $after, Instant $through): array
    {
        $asItIs = array_key_first($rules);
        $one = $rules[$asItIs];
        $first = $after->onStep($one->step)->plus($one->step);
        $hours = $this->hours($rules, $first, $through);
        $alerts = $transitions = array_map(static fn(): array => [], $rules);
        while (!$first->isAfter($through)) {
            \assert($rules !== []);
            $columns = $this->columns($rules, $first, $through, $hours, self::raisedIn($transitions[$asItIs] ?? [], $one));
            foreach ($rules as $i => $rule) {
                $part = $this->advance($rule, $columns, $alerts[$i]);
                $alerts[$i] = $part->alerts;
                array_push($transitions[$i], ...$part->transitions);
                if (count($transitions[$i]) > self::MOST_SWEPT && $rule !== $one) {
                    unset($rules[$i], $alerts[$i], $transitions[$i]);
                }
            }
            $first = $columns->last->plus($one->step);
        }
        $outcomes = [];
        foreach ($rules as $i => $_) {
            $outcomes[$i] = new Outcome($alerts[$i], $transitions[$i], $through);
        }

        return $outcomes;
    }

    /**
     * As many instants as may be worked out at once.
     *
     * @param non-empty-array<Rule> $rules that judge by the same inputs
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where a single instant would take too much
     */
    private function columns(array $rules, Instant $first, Instant $through, ?Hours $hours, ?RaisedSpells $raised): Columns
    {
        $rule = reset($rules);
        $stepMs = $rule->step->ms;
        $last = min($through->ms, $first->ms + (self::CHUNK_INSTANTS - 1) * $stepMs);
        [$evaluator, $until] = $this->sight->at($rule->watched, $first->ms, $last);
        $evaluator = $evaluator->seeing($rule->mustSee);
        $nearness = count($rules) === 1 ? $rule->nearness() : null;
        if ($nearness !== null) {
            $evaluator = $evaluator->foreseeingOnly($nearness);
        }
        $last = min($last, max($first->ms, $until));
        if ($rule->remembersSpells() !== null) {
            $evaluator = $evaluator->leavingOut($raised ?? RaisedSpells::none());
            // What is known of its spells changes at midnight.
            $midnight = (int) (floor($first->ms / self::DAY_MS) + 1) * self::DAY_MS;
            $last = min($last, $first->ms + intdiv($midnight - 1 - $first->ms, $stepMs) * $stepMs);
        }
        foreach ($rule->condition->inputs($rule->watched) as $input) {
            $count = $evaluator->mostInstants($input, $first->ms, $stepMs, intdiv($last - $first->ms, $stepMs) + 1);
            $last = $first->ms + ($count - 1) * $stepMs;
        }

        $steady = self::steady($rules);
        $standing = $steady === null ? [] : $hours?->steady($steady, $first, Instant::ofMs($last), $rule->mustSee) ?? [];
        $watched = $hours === null || $standing === [] ? $rule->watched : $hours->others($standing);
        if ($steady !== null) {
            $evaluator = $evaluator->steadily($watched, $steady);
        }

        return Columns::read($rule, $watched, $standing, $evaluator, $this->rests, $first, Instant::ofMs($last));
    }

    /**
     * What makes no difference to any of these rules: on which side of their limits a value lies decides, for as long as they hold
     * and clear. One that waits for another rule may speak at any time, and tells its value then.
     *
     * @param non-empty-array<Rule> $rules
     */
    private static function steady(array $rules): ?Steady
    {
        $bounds = [];
        $marginMs = 0;
        foreach ($rules as $rule) {
            $isSimple = $rule->dependsOn === [] && $rule->together === null && Hours::canTell($rule->watched);
            if (!$isSimple || !$rule->condition instanceof Threshold || $rule->condition->counting !== null) {
                return null;
            }
            array_push($bounds, ...$rule->bounds());
            $marginMs = max($marginMs, $rule->holding->hold->ms, $rule->holding->clearHold->ms);
        }

        return new Steady($bounds, $marginMs);
    }

    /**
     * @param array<string, TrackedAlert> $alerts by the key of their labels
     *
     * @throws TooMuchToRead
     */
    private function advance(Rule $rule, Columns $columns, array $alerts): Outcome
    {
        $lifeCycle = new LifeCycle($rule->holding);
        $transitions = [];
        foreach ($columns->looks($rule, $alerts) as $key => [$labels, $looks]) {
            $this->patience->goOn();
            $before = ($alerts[$key] ?? null)?->state;
            if ($before !== null && self::nextToJudge($before, $looks, 0) >= $columns->count) {
                continue;
            }
            [$state, $happened] = $this->live($rule, $lifeCycle, $labels, $before, $looks, $columns);
            foreach ($happened as $transition) {
                $transitions[] = new AlertTransition($labels, $transition);
            }
            if ($state === null) {
                unset($alerts[$key]);
            } elseif ($state !== $before) {
                $alerts[$key] = new TrackedAlert($labels, $state);
            }
        }

        return new Outcome($alerts, $transitions, $columns->last);
    }

    /**
     * How a rule that is new stands at once: what is past its limit for long enough is raised, and what should be there and
     * is not is missed.
     *
     * @param array<string, TrackedAlert> $alerts as they are at the instant
     *
     * @return list<AlertTransition>
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function opening(Rule $rule, array $alerts, Instant $at): array
    {
        $values = [];
        foreach ($this->sight->at($rule->watched, $at->ms, $at->ms)[0]->seeing($rule->mustSee)->range($rule->watched, $at->ms, $at->ms, 1)->lines as $line) {
            $values[$line->labels->key()] = $line->values[0];
        }
        $opening = [];
        foreach ($alerts as $key => $alert) {
            $state = $alert->state;
            $phase = $state->phase === Phase::Easing ? Phase::Raised : $state->phase;
            if ($phase !== Phase::Calm) {
                $opening[] = new AlertTransition(
                    $alert->labels,
                    new Transition($at, Phase::Calm, $phase, $state->severity, $values[$key] ?? null, $state->onset),
                );
            }
        }

        return $opening;
    }

    /**
     * Whether a rule gives anything for these labels at any instant of a span.
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function looksAt(Rule $rule, LabelSet $labels, Instant $from, Instant $to, Duration $step): bool
    {
        $evaluator = $this->sight->at($rule->watched, $to->ms, $to->ms)[0]->seeing($rule->mustSee);
        $together = $rule->together;
        if ($together === null) {
            return $evaluator->line($rule->watched, $labels, $from->ms, $to->ms, $step->ms) !== null;
        }
        $lines = $evaluator->range($rule->watched, $from->ms, $to->ms, $step->ms)->lines;

        return array_any($lines, static fn(Line $line): bool => $together->group($line->labels)->equals($labels));
    }

    /**
     * One alert over some instants.
     *
     * @return array{AlertState|null, list<Transition>} null: nobody has seen it yet, or it is over
     */
    private function live(
        Rule $rule,
        LifeCycle $lifeCycle,
        LabelSet $labels,
        ?AlertState $state,
        Looks $looks,
        Columns $columns,
    ): array {
        $transitions = [];
        $quietUntil = null;
        for ($i = 0; $i < $columns->count; ++$i) {
            if ($state !== null) {
                $i = self::nextToJudge($state, $looks, $i);
                if ($i >= $columns->count) {
                    break;
                }
            }
            $sees = $looks->sees($i);
            $at = $columns->first->plus($rule->step->times($i));
            $rest = $sees ? null : $columns->rests->why($rule->watched, $labels, $at);
            // What is missed already stays so, until it is seen, or has been missed for long enough.
            if (!$sees && $rest === null && $quietUntil !== null && $at->isBefore($quietUntil)) {
                continue;
            }
            $quietUntil = null;
            if ($state === null) {
                // A label set begins where it is first seen: before that nobody misses it.
                if (!$sees) {
                    continue;
                }
                $state = AlertState::calm($at);
            }
            $verdict = $looks->judge($i, $state->memory, $at);
            $held = $verdict->isPast() ? $columns->explained->by($labels, $i) : null;
            $step = $lifeCycle->step($state, $at, $verdict, $rest, $held);
            if (!$sees && $step->state === $state && $verdict->standing === Standing::Unknown) {
                $quietUntil = $lifeCycle->quietUntil($state);
            }
            $state = $step->state->phase->isOver() ? null : $step->state;
            if ($step->transition !== null) {
                $transitions[] = $step->transition;
            }
        }

        return [$state, $transitions];
    }

    /** Instants at which nothing can happen are passed over: while it is calm, and while it stays as raised as it is. */
    private static function nextToJudge(AlertState $state, Looks $looks, int $i): int
    {
        $isSteady = $state->missingSince === null && $state->milderSince === null;

        return match (true) {
            !$isSteady => $i,
            $state->phase === Phase::Calm => $looks->calmUntil($i),
            $state->phase === Phase::Raised && $state->severity !== null => $looks->pastUntil($i, $state->severity),
            default => $i,
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\TooMuchToRead;
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

    public function __construct(private Sight $sight, private Rests $rests = new NobodyRests())
    {
    }

    /**
     * @param array<string, TrackedAlert> $alerts by the key of their labels
     * @param Instant                     $after  the last instant already done
     *
     * @throws \Olivine\Core\Formula\FormulaError  where two sides cannot be paired
     * @throws \Olivine\Core\Formula\TooMuchToRead where a single instant would take too much
     */
    public function run(Rule $rule, array $alerts, Instant $after, Instant $through): Outcome
    {
        $transitions = [];
        $first = $after->onStep($rule->step)->plus($rule->step);
        while (!$first->isAfter($through)) {
            $part = $this->part($rule, $alerts, $first, $through);
            $alerts = $part->alerts;
            array_push($transitions, ...$part->transitions);
            $first = $part->through->plus($rule->step);
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
     *
     * @throws \Olivine\Core\Formula\FormulaError  where two sides cannot be paired
     * @throws \Olivine\Core\Formula\TooMuchToRead where a single instant would take too much
     */
    public function part(Rule $rule, array $alerts, Instant $first, Instant $through): Outcome
    {
        $stepMs = $rule->step->ms;
        $last = min($through->ms, $first->ms + (self::CHUNK_INSTANTS - 1) * $stepMs);
        [$evaluator, $until] = $this->sight->at($rule->watched, $first->ms, $last);
        $last = min($last, max($first->ms, $until));
        $inputs = $rule->condition->inputs($rule->watched);
        foreach ($inputs as $input) {
            $count = $evaluator->mostInstants($input, $first->ms, $stepMs, intdiv($last - $first->ms, $stepMs) + 1);
            $last = $first->ms + ($count - 1) * $stepMs;
        }
        $count = intdiv($last - $first->ms, $stepMs) + 1;
        $labels = array_map(static fn(TrackedAlert $alert): LabelSet => $alert->labels, $alerts);
        $columns = [];
        foreach ($inputs as $i => $input) {
            foreach ($evaluator->range($input, $first->ms, $last, $stepMs)->lines as $line) {
                $key = $line->labels->key();
                $columns[$key][$i] = $line->values;
                if ($i === 0) {
                    $labels[$key] ??= $line->labels;
                }
            }
        }
        $nothing = array_fill(0, $count, null);
        $lifeCycle = new LifeCycle($rule->holding);
        $transitions = [];
        foreach ($labels as $key => $labelSet) {
            $before = ($alerts[$key] ?? null)?->state;
            $of = array_map(static fn(int $i): array => $columns[$key][$i] ?? $nothing, array_keys($inputs));
            [$state, $happened] = $this->live($rule, $lifeCycle, $labelSet, $before, $of, $first);
            foreach ($happened as $transition) {
                $transitions[] = new AlertTransition($labelSet, $transition);
            }
            if ($state === null) {
                unset($alerts[$key]);
            } elseif ($state !== $before) {
                $alerts[$key] = new TrackedAlert($labelSet, $state);
            }
        }

        return new Outcome($alerts, $transitions, Instant::ofMs($last));
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
        foreach ($this->sight->at($rule->watched, $at->ms, $at->ms)[0]->range($rule->watched, $at->ms, $at->ms, 1)->lines as $line) {
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
     * Whether a formula gives anything for these labels at any instant of a span.
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function looksAt(Node $formula, LabelSet $labels, Instant $from, Instant $to, Duration $step): bool
    {
        $evaluator = $this->sight->at($formula, $to->ms, $to->ms)[0];

        return $evaluator->line($formula, $labels, $from->ms, $to->ms, $step->ms) !== null;
    }

    /**
     * One label set over some instants.
     *
     * @param non-empty-list<list<float|null>> $columns of the inputs, a value an instant
     *
     * @return array{AlertState|null, list<Transition>} null: nobody has seen it yet, or it is over
     */
    private function live(
        Rule $rule,
        LifeCycle $lifeCycle,
        LabelSet $labels,
        ?AlertState $state,
        array $columns,
        Instant $first,
    ): array {
        $condition = $rule->condition;
        $watched = $columns[0];
        $transitions = [];
        $count = count($watched);
        for ($i = 0; $i < $count; ++$i) {
            if ($state !== null && $state->phase === Phase::Calm && $state->missingSince === null) {
                $i = $condition->calmUntil($columns, $i);
                if ($i === $count) {
                    break;
                }
            }
            $at = Instant::ofMs($first->ms + $i * $rule->step->ms);
            if ($state === null) {
                // A label set begins where it is first seen: before that nobody misses it.
                if ($watched[$i] === null) {
                    continue;
                }
                $state = AlertState::calm($at);
            }
            $values = [];
            foreach ($columns as $column) {
                $values[] = $column[$i];
            }
            $verdict = $condition->judge($state->memory, $at, $values);
            $rest = $watched[$i] === null ? $this->rests->why($rule->watched, $labels, $at) : null;
            $step = $lifeCycle->step($state, $at, $verdict, $rest);
            $state = $step->state->phase->isOver() ? null : $step->state;
            if ($step->transition !== null) {
                $transitions[] = $step->transition;
            }
        }

        return [$state, $transitions];
    }
}

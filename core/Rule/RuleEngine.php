<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
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
        $looks = $this->looks($rule, $evaluator, $first->ms, $last, $alerts);
        $lifeCycle = new LifeCycle($rule->holding);
        $transitions = [];
        foreach ($looks as $key => [$labels, $look]) {
            $before = ($alerts[$key] ?? null)?->state;
            [$state, $happened] = $this->live($rule, $lifeCycle, $labels, $before, $look, $first, $count);
            foreach ($happened as $transition) {
                $transitions[] = new AlertTransition($labels, $transition);
            }
            if ($state === null) {
                unset($alerts[$key]);
            } elseif ($state !== $before) {
                $alerts[$key] = new TrackedAlert($labels, $state);
            }
        }

        return new Outcome($alerts, $transitions, Instant::ofMs($last));
    }

    /**
     * @param array<string, TrackedAlert> $alerts that are there already, also where nothing is seen of them any more
     *
     * @return array<string, array{LabelSet, Looks}> by the key of the labels of the alert
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where a single instant would take too much
     */
    private function looks(Rule $rule, Evaluator $evaluator, int $firstMs, int $lastMs, array $alerts): array
    {
        $inputs = $rule->condition->inputs($rule->watched);
        $labels = [];
        $columns = [];
        foreach ($inputs as $i => $input) {
            foreach ($evaluator->range($input, $firstMs, $lastMs, $rule->step->ms)->lines as $line) {
                $key = $line->labels->key();
                $columns[$key][$i] = $line->values;
                if ($i === 0) {
                    $labels[$key] = $line->labels;
                }
            }
        }
        $nothing = array_fill(0, intdiv($lastMs - $firstMs, $rule->step->ms) + 1, null);
        $one = static fn(string $key): LooksAtOne => new LooksAtOne(
            $rule->condition,
            array_map(static fn(int $i): array => $columns[$key][$i] ?? $nothing, array_keys($inputs)),
        );
        $looks = [];
        if ($rule->together === null) {
            foreach ($labels + array_map(static fn(TrackedAlert $alert): LabelSet => $alert->labels, $alerts) as $key => $set) {
                $looks[$key] = [$set, $one($key)];
            }

            return $looks;
        }
        $groups = [];
        $members = [];
        foreach ($labels as $key => $set) {
            $group = $rule->together->group($set);
            $groups[$group->key()] = $group;
            $members[$group->key()][self::member($set, $group)] = $one($key);
        }
        foreach ($groups + array_map(static fn(TrackedAlert $alert): LabelSet => $alert->labels, $alerts) as $key => $group) {
            $looks[$key] = [$group, new LooksAtGroup($rule->together, $members[$key] ?? ['' => $one('')])];
        }

        return $looks;
    }

    /** What tells one from the others of its group: `gate-3`, or `broker-north boarding`. */
    private static function member(LabelSet $labels, LabelSet $group): string
    {
        return implode(' ', array_diff_key($labels->labels, $group->labels));
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
        Instant $first,
        int $count,
    ): array {
        $transitions = [];
        for ($i = 0; $i < $count; ++$i) {
            if ($state !== null && $state->phase === Phase::Calm && $state->missingSince === null) {
                $i = $looks->calmUntil($i);
                if ($i >= $count) {
                    break;
                }
            }
            $sees = $looks->sees($i);
            $at = Instant::ofMs($first->ms + $i * $rule->step->ms);
            if ($state === null) {
                // A label set begins where it is first seen: before that nobody misses it.
                if (!$sees) {
                    continue;
                }
                $state = AlertState::calm($at);
            }
            $verdict = $looks->judge($i, $state->memory, $at);
            $rest = $sees ? null : $this->rests->why($rule->watched, $labels, $at);
            $step = $lifeCycle->step($state, $at, $verdict, $rest);
            $state = $step->state->phase->isOver() ? null : $step->state;
            if ($step->transition !== null) {
                $transitions[] = $step->transition;
            }
        }

        return [$state, $transitions];
    }
}

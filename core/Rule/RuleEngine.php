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
    public function run(Node $formula, Threshold $rule, Duration $step, array $alerts, Instant $after, Instant $through): Outcome
    {
        $transitions = [];
        $first = $after->onStep($step)->plus($step);
        while (!$first->isAfter($through)) {
            $part = $this->part($formula, $rule, $step, $alerts, $first, $through);
            $alerts = $part->alerts;
            array_push($transitions, ...$part->transitions);
            $first = $part->through->plus($step);
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
    public function part(Node $formula, Threshold $rule, Duration $step, array $alerts, Instant $first, Instant $through): Outcome
    {
        $stepMs = $step->ms;
        $firstMs = $first->ms;
        $last = min($through->ms, $firstMs + (self::CHUNK_INSTANTS - 1) * $stepMs);
        [$evaluator, $until] = $this->sight->at($formula, $firstMs, $last);
        $last = min($last, max($firstMs, $until));
        $count = $evaluator->mostInstants($formula, $firstMs, $stepMs, intdiv($last - $firstMs, $stepMs) + 1);
        $last = $firstMs + ($count - 1) * $stepMs;
        $labels = array_map(static fn(TrackedAlert $alert): LabelSet => $alert->labels, $alerts);
        $columns = [];
        foreach ($evaluator->range($formula, $firstMs, $last, $stepMs)->lines as $line) {
            $key = $line->labels->key();
            $columns[$key] = $line->values;
            $labels[$key] ??= $line->labels;
        }
        $lifeCycle = new LifeCycle($rule);
        $transitions = [];
        foreach ($labels as $key => $labelSet) {
            $before = ($alerts[$key] ?? null)?->state;
            $why = fn(Instant $at): ?string => $this->rests->why($formula, $labelSet, $at);
            [$state, $happened] = self::live(
                $lifeCycle,
                $before,
                $columns[$key] ?? array_fill(0, $count, null),
                $firstMs,
                $stepMs,
                $why,
            );
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
    public function opening(Node $formula, array $alerts, Instant $at): array
    {
        $values = [];
        foreach ($this->sight->at($formula, $at->ms, $at->ms)[0]->range($formula, $at->ms, $at->ms, 1)->lines as $line) {
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
     * @param list<float|null>           $values
     * @param callable(Instant): ?string $why    no value is expected at an instant
     *
     * @return array{AlertState|null, list<Transition>} null: nobody has seen it yet, or it is over
     */
    private static function live(
        LifeCycle $lifeCycle,
        ?AlertState $state,
        array $values,
        int $firstMs,
        int $stepMs,
        callable $why,
    ): array {
        $transitions = [];
        $count = count($values);
        for ($i = 0; $i < $count; ++$i) {
            if ($state !== null && $state->phase === Phase::Calm && $state->missingSince === null) {
                $i = $lifeCycle->calmUntil($values, $i);
                if ($i === $count) {
                    break;
                }
            }
            $at = Instant::ofMs($firstMs + $i * $stepMs);
            $value = $values[$i];
            if ($state === null) {
                // A label set begins where it is first seen: before that nobody misses it.
                if ($value === null) {
                    continue;
                }
                $state = AlertState::calm($at);
            }
            $step = $lifeCycle->step($state, $at, $value, $value === null ? $why($at) : null);
            $state = $step->state->phase->isOver() ? null : $step->state;
            if ($step->transition !== null) {
                $transitions[] = $step->transition;
            }
        }

        return [$state, $transitions];
    }
}

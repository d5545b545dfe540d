<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Series\LabelSet;

/**
 * Drives all alerts of a rule over the instants of a span. A rule looks at whole multiples of its step, so where
 * a run begins or ends changes nothing: one instant live, a day after a standstill or a fortnight of replay
 * give the same transitions from the same readings.
 */
final readonly class RuleEngine
{
    private const CHUNK_INSTANTS = 1_440;
    /** A label set unseen for this long is forgotten. */
    public const FORGET_AFTER_MS = 86_400_000;

    public function __construct(private Evaluator $evaluator)
    {
    }

    /**
     * @param array<string, TrackedAlert> $alerts  by the key of their labels
     * @param int                         $afterMs the last instant already done
     */
    public function run(Node $formula, Threshold $rule, int $stepMs, array $alerts, int $afterMs, int $throughMs): Outcome
    {
        $lifeCycle = new LifeCycle($rule);
        $transitions = [];
        $first = (intdiv($afterMs, $stepMs) + 1) * $stepMs;
        while ($first <= $throughMs) {
            $last = min($throughMs, $first + (self::CHUNK_INSTANTS - 1) * $stepMs);
            $last -= ($last - $first) % $stepMs;
            $labels = array_map(static fn(TrackedAlert $alert): LabelSet => $alert->labels, $alerts);
            $columns = [];
            foreach ($this->evaluator->range($formula, $first, $last, $stepMs)->lines as $line) {
                $key = $line->labels->key();
                $columns[$key] = $line->values;
                $labels[$key] ??= $line->labels;
            }
            $count = intdiv($last - $first, $stepMs) + 1;
            foreach ($labels as $key => $labelSet) {
                $before = $state = ($alerts[$key] ?? null)?->state;
                $values = $columns[$key] ?? null;
                for ($i = 0; $i < $count; ++$i) {
                    if ($values !== null && $state !== null && $state->phase === Phase::Calm && $state->missingSinceMs === null) {
                        $i = $lifeCycle->calmUntil($values, $i);
                        if ($i === $count) {
                            break;
                        }
                    }
                    $at = $first + $i * $stepMs;
                    $value = $values === null ? null : $values[$i];
                    if ($state === null) {
                        // A label set begins where it is first seen: before that nobody misses it.
                        if ($value === null) {
                            continue;
                        }
                        $state = AlertState::calm($at);
                    }
                    $step = $lifeCycle->step($state, $at, $value);
                    $state = $step->state;
                    if ($step->transition !== null) {
                        $transitions[] = new AlertTransition($labelSet, $step->transition);
                    }
                    if ($state->missingSinceMs !== null && $at - $state->missingSinceMs >= self::FORGET_AFTER_MS) {
                        if ($state->phase !== Phase::Calm) {
                            $transitions[] = new AlertTransition($labelSet, new Transition($at, $state->phase, Phase::Calm, $state->severity, null, $state->onsetMs));
                        }
                        $state = null;
                    }
                }
                if ($state === null) {
                    unset($alerts[$key]);
                } elseif ($state !== $before) {
                    $alerts[$key] = new TrackedAlert($labelSet, $state);
                }
            }
            $first = $last + $stepMs;
        }
        usort($transitions, static fn(AlertTransition $a, AlertTransition $b): int => $a->transition->atMs <=> $b->transition->atMs);

        return new Outcome($alerts, $transitions);
    }
}

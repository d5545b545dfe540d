<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Node;

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
            $columns = [];
            foreach ($this->evaluator->range($formula, $first, $last, $stepMs)->lines as $line) {
                $key = $line->labels->key();
                $columns[$key] = $line->values;
                $alerts[$key] ??= new TrackedAlert($line->labels, AlertState::calm($first));
            }
            $count = intdiv($last - $first, $stepMs) + 1;
            foreach ($alerts as $key => $alert) {
                $state = $alert->state;
                $values = $columns[$key] ?? null;
                for ($i = 0, $at = $first; $i < $count; ++$i, $at += $stepMs) {
                    $step = $lifeCycle->step($state, $at, $values === null ? null : $values[$i]);
                    $state = $step->state;
                    if ($step->transition !== null) {
                        $transitions[] = new AlertTransition($alert->labels, $step->transition);
                    }
                }
                if ($state->missingSinceMs !== null && $last - $state->missingSinceMs >= self::FORGET_AFTER_MS) {
                    if ($state->phase !== Phase::Calm) {
                        $transitions[] = new AlertTransition($alert->labels, new Transition($last, $state->phase, Phase::Calm, $state->severity, null, $state->onsetMs));
                    }
                    unset($alerts[$key]);
                    continue;
                }
                $alerts[$key] = $state === $alert->state ? $alert : new TrackedAlert($alert->labels, $state);
            }
            $first = $last + $stepMs;
        }
        usort($transitions, static fn(AlertTransition $a, AlertTransition $b): int => $a->transition->atMs <=> $b->transition->atMs);

        return new Outcome($alerts, $transitions);
    }
}

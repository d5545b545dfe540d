<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/**
 * One step of one alert: its state, the instant and the value then give the next state and what happened.
 * Pure, so live evaluation, replay and tests are the same computation.
 *
 * With limit 400, hold 5 min, clear 350 for 5 min:
 *
 *     10:00  412  calm → building          10:20  340  raised → easing
 *     10:05  455  building → raised        10:22  390  easing → raised (nobody is told again)
 *     10:06 1300  raised → raised, worse   10:30  330  raised → easing,  10:35 calm
 *
 * Without a value the clocks of building and easing stand on what was seen: nothing raises or clears unseen.
 * After the blind time the alert is blind; when values return, one that was raised goes on as raised or easing. Where they
 * do not return it ends as lost from sight, which is no recovery: nobody knows how it is. Where somebody paused what it
 * looks at, it ends at once and quietly, with the reason.
 */
final readonly class LifeCycle
{
    public function __construct(private Threshold $rule)
    {
    }

    /** @param string|null $rest why no value is expected, where none is */
    public function step(AlertState $state, Instant $at, ?float $value, ?string $rest = null): Step
    {
        if ($value === null || is_nan($value)) {
            return $rest === null ? $this->unseen($state, $at) : self::ended($state, $at, $rest);
        }
        if ($state->missingSince !== null) {
            $state = new AlertState(
                $state->phase,
                $state->since,
                $state->onset,
                $state->severity,
                null,
                $state->raisedBefore,
            );
        }
        $past = $this->rule->direction->isPast($value, $this->rule->limit);
        $back = $this->rule->direction->isBack($value, $this->rule->clearLimit);

        return match ($state->phase) {
            Phase::Calm => $past ? $this->begin($state, $at, $value) : new Step($state),
            Phase::Building => $this->whileBuilding($state, $at, $value, $past),
            Phase::Raised => $this->whileRaised($state, $at, $value, $back),
            Phase::Easing => $this->whileEasing($state, $at, $value, $back),
            Phase::Blind => $this->seenAgain($state, $at, $value, $past, $back),
            Phase::Lost, Phase::Ended => throw new \LogicException('An alert that is over has no next step'),
        };
    }

    /**
     * Most alerts are calm most of the time, and stay so at every value that is there and not past the limit.
     *
     * @param array<int, float|null> $values
     *
     * @return int the first place from there on whose value needs a step of an alert that is calm and seen
     */
    public function calmUntil(array $values, int $from): int
    {
        $limit = $this->rule->limit;
        $count = count($values);
        $i = $from;
        // What is no number is neither above nor below, so it ends both loops.
        if ($this->rule->direction === Direction::Above) {
            while ($i < $count && $values[$i] !== null && $values[$i] <= $limit) {
                ++$i;
            }
        } else {
            while ($i < $count && $values[$i] !== null && $values[$i] >= $limit) {
                ++$i;
            }
        }

        return $i;
    }

    private function begin(AlertState $state, Instant $at, float $value): Step
    {
        return $this->rule->hold->isNone()
            ? $this->move($state, Phase::Raised, $at, $value, $at, $this->rule->severityAt($value))
            : $this->move($state, Phase::Building, $at, $value, $at, null);
    }

    private function whileBuilding(AlertState $state, Instant $at, float $value, bool $past): Step
    {
        if (!$past) {
            return $this->move($state, Phase::Calm, $at, $value, null, null);
        }
        if ($at->since($state->since)->isAtLeast($this->rule->hold)) {
            return $this->move($state, Phase::Raised, $at, $value, $state->onset, $this->rule->severityAt($value));
        }

        return new Step($state);
    }

    private function whileRaised(AlertState $state, Instant $at, float $value, bool $back): Step
    {
        if ($back) {
            return $this->rule->clearHold->isNone()
                ? $this->move($state, Phase::Calm, $at, $value, null, null)
                : $this->move($state, Phase::Easing, $at, $value, $state->onset, $state->severity);
        }
        $severity = $this->rule->severityAt($value);
        if ($severity->isWorseThan($state->severity)) {
            $worse = new AlertState(Phase::Raised, $state->since, $state->onset, $severity);

            return new Step($worse, new Transition($at, Phase::Raised, Phase::Raised, $severity, $value, $state->onset));
        }

        return new Step($state);
    }

    private function whileEasing(AlertState $state, Instant $at, float $value, bool $back): Step
    {
        if (!$back) {
            $severity = $this->rule->severityAt($value);

            return $this->move(
                $state,
                Phase::Raised,
                $at,
                $value,
                $state->onset,
                $severity->isWorseThan($state->severity) ? $severity : $state->severity,
            );
        }
        if ($at->since($state->since)->isAtLeast($this->rule->clearHold)) {
            return $this->move($state, Phase::Calm, $at, $value, null, null);
        }

        return new Step($state);
    }

    private function seenAgain(AlertState $state, Instant $at, float $value, bool $past, bool $back): Step
    {
        if (!$state->raisedBefore) {
            return $past ? $this->begin($state, $at, $value) : $this->move($state, Phase::Calm, $at, $value, null, null);
        }
        if ($back) {
            return $this->rule->clearHold->isNone()
                ? $this->move($state, Phase::Calm, $at, $value, null, null)
                : $this->move($state, Phase::Easing, $at, $value, $state->onset, $state->severity);
        }

        return $this->move($state, Phase::Raised, $at, $value, $state->onset, $state->severity);
    }

    private function unseen(AlertState $state, Instant $at): Step
    {
        $missingSince = $state->missingSince ?? $at;
        if ($state->phase !== Phase::Blind && $at->since($missingSince)->isAtLeast($this->rule->blindAfter)) {
            $raised = $state->phase->isRaised();
            $severity = $raised ? $state->severity : $this->rule->blindSeverity;
            $blind = new AlertState(
                Phase::Blind,
                $at,
                $raised ? $state->onset : $missingSince,
                $severity,
                $missingSince,
                $raised,
            );

            return new Step($blind, new Transition($at, $state->phase, Phase::Blind, $severity, null, $missingSince));
        }
        if ($state->phase === Phase::Blind && $at->since($missingSince)->isAtLeast($this->rule->lostAfter)) {
            return self::over($state, Phase::Lost, $at, '');
        }
        if ($state->missingSince === null) {
            return new Step(
                new AlertState($state->phase, $state->since, $state->onset, $state->severity, $at, $state->raisedBefore),
            );
        }

        return new Step($state);
    }

    private static function ended(AlertState $state, Instant $at, string $why): Step
    {
        // What was calm and seen until now has nothing to end.
        return $state->phase === Phase::Calm
            ? new Step(new AlertState(Phase::Ended, $at))
            : self::over($state, Phase::Ended, $at, $why);
    }

    private static function over(AlertState $state, Phase $end, Instant $at, string $why): Step
    {
        return new Step(
            new AlertState($end, $at, $state->onset, $state->severity),
            new Transition($at, $state->phase, $end, $state->severity, null, $state->onset, $why),
        );
    }

    private function move(AlertState $state, Phase $to, Instant $at, float $value, ?Instant $onset, ?Severity $severity): Step
    {
        return new Step(
            new AlertState($to, $at, $onset, $severity),
            new Transition($at, $state->phase, $to, $severity ?? $state->severity, $value, $onset ?? $state->onset),
        );
    }
}

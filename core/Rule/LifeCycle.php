<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/**
 * One step of one alert: its state, the instant and what the condition says then give the next state and what happened.
 * Pure, so live evaluation, replay and tests are the same computation; it knows no kind of condition.
 *
 * With major above 400, critical above 1,200, hold 5 min, clear at or below 350 for 5 min:
 *
 *     10:00  412  calm → building          10:20  340  raised → easing
 *     10:05  455  building → raised        10:22  390  easing → raised (nobody is told again)
 *     10:06 1300  raised, now critical     10:30  330  raised → easing,  10:35 calm
 *     10:07  900  10:12 raised, now major
 *
 * Where nobody can tell, the clocks of building and easing stand on what was seen: nothing raises or clears unseen.
 * After the blind time the alert is blind; when it can be told again, one that was raised goes on as raised or easing. Where
 * that does not come it ends as lost from sight, which is no recovery: nobody knows how it is. Where somebody paused what it
 * looks at, it ends at once and quietly, with the reason. While Olivine itself stood still nothing is missed, and all stays.
 */
final readonly class LifeCycle
{
    public function __construct(private Holding $holding)
    {
    }

    /**
     * @param Rest|null   $rest why no value is expected, where none is
     * @param string|null $held because of what it must not speak yet, where that is so
     */
    public function step(AlertState $state, Instant $at, Verdict $verdict, ?Rest $rest = null, ?string $held = null): Step
    {
        if ($rest !== null) {
            return $rest->endsAlerts ? self::ended($state, $at, $rest->words) : new Step($state->missedFromNowOn());
        }
        if ($verdict->standing === Standing::Unknown) {
            return $this->unseen($state, $at, $verdict);
        }
        if ($state->missingSince !== null) {
            $state = $state->missedFromNowOn();
        }
        $state = $state->remembering($verdict->memory);

        return match ($state->phase) {
            Phase::Calm => $verdict->isPast() ? $this->begin($state, $at, $verdict, $held) : new Step($state),
            Phase::Building, Phase::Held => $this->whileBuilding($state, $at, $verdict, $held),
            Phase::Raised => $this->whileRaised($state, $at, $verdict),
            Phase::Easing => $this->whileEasing($state, $at, $verdict),
            Phase::Blind => $this->seenAgain($state, $at, $verdict, $held),
            Phase::Lost, Phase::Ended => throw new \LogicException('An alert that is over has no next step'),
        };
    }

    private function begin(AlertState $state, Instant $at, Verdict $verdict, ?string $held): Step
    {
        return $this->holding->hold->isNone()
            ? $this->speak($state, $at, $verdict, $at, $held)
            : $this->move($state, Phase::Building, $at, $verdict, $at, null);
    }

    /** It is raised, or held back by what explains it. */
    private function speak(AlertState $state, Instant $at, Verdict $verdict, ?Instant $onset, ?string $held): Step
    {
        if ($held === null) {
            return $this->move($state, Phase::Raised, $at, $verdict, $onset, $verdict->severity);
        }

        return $state->phase === Phase::Held
            ? new Step($state)
            : $this->move($state, Phase::Held, $at, $verdict, $onset, null, $held);
    }

    private function whileBuilding(AlertState $state, Instant $at, Verdict $verdict, ?string $held): Step
    {
        if (!$verdict->isPast()) {
            return $this->move($state, Phase::Calm, $at, $verdict, null, null);
        }
        if ($state->phase === Phase::Held || $at->since($state->since)->isAtLeast($this->holding->hold)) {
            return $this->speak($state, $at, $verdict, $state->onset, $held);
        }

        return new Step($state);
    }

    private function whileRaised(AlertState $state, Instant $at, Verdict $verdict): Step
    {
        if ($verdict->isBack()) {
            return $this->ease($state, $at, $verdict);
        }
        // What is raised for want of readings ends when nobody expects them any more.
        if ($verdict->value === null && $at->since($state->onset ?? $state->since)->isAtLeast($this->holding->lostAfter)) {
            return self::over($state, Phase::Lost, $at, '');
        }
        $severity = $verdict->severity;
        if ($severity === null || $severity === $state->severity) {
            return new Step($state->milderSince === null ? $state : $state->asGraveAs($state->severity));
        }
        if (!$severity->isWorseThan($state->severity)) {
            $milderSince = $state->milderSince ?? $at;
            if (!$at->since($milderSince)->isAtLeast($this->holding->clearHold)) {
                return new Step($state->milderSince === null ? $state->milderFrom($at) : $state);
            }
        }

        return new Step(
            $state->asGraveAs($severity),
            new Transition(
                $at,
                Phase::Raised,
                Phase::Raised,
                $severity,
                $verdict->value,
                $state->onset,
                $verdict->who,
                $verdict->numbers,
            ),
        );
    }

    private function ease(AlertState $state, Instant $at, Verdict $verdict): Step
    {
        return $this->holding->clearHold->isNone()
            ? $this->move($state, Phase::Calm, $at, $verdict, null, null)
            : $this->move($state, Phase::Easing, $at, $verdict, $state->onset, $state->severity);
    }

    private function whileEasing(AlertState $state, Instant $at, Verdict $verdict): Step
    {
        if (!$verdict->isBack()) {
            $isWorse = $verdict->severity !== null && $verdict->severity->isWorseThan($state->severity);

            return $this->move(
                $state,
                Phase::Raised,
                $at,
                $verdict,
                $state->onset,
                $isWorse ? $verdict->severity : $state->severity,
            );
        }
        if ($at->since($state->since)->isAtLeast($this->holding->clearHold)) {
            return $this->move($state, Phase::Calm, $at, $verdict, null, null);
        }

        return new Step($state);
    }

    private function seenAgain(AlertState $state, Instant $at, Verdict $verdict, ?string $held): Step
    {
        if (!$state->raisedBefore) {
            return $verdict->isPast()
                ? $this->begin($state, $at, $verdict, $held)
                : $this->move($state, Phase::Calm, $at, $verdict, null, null);
        }

        return $verdict->isBack()
            ? $this->ease($state, $at, $verdict)
            : $this->move($state, Phase::Raised, $at, $verdict, $state->onset, $state->severity);
    }

    private function unseen(AlertState $state, Instant $at, Verdict $verdict): Step
    {
        $missingSince = $state->missingSince ?? $at;
        if ($state->phase !== Phase::Blind && $at->since($missingSince)->isAtLeast($this->holding->blindAfter)) {
            $raised = $state->phase->isRaised();
            $severity = $raised ? $state->severity : $this->holding->blindSeverity;
            $blind = new AlertState(
                Phase::Blind,
                $at,
                $raised ? $state->onset : $missingSince,
                $severity,
                $missingSince,
                $raised,
            );

            return new Step($blind, new Transition($at, $state->phase, Phase::Blind, $severity, null, $missingSince, $verdict->why));
        }
        if ($state->phase === Phase::Blind && $at->since($missingSince)->isAtLeast($this->holding->lostAfter)) {
            return self::over($state, Phase::Lost, $at, '');
        }
        if ($state->missingSince === null) {
            return new Step(
                new AlertState(
                    $state->phase,
                    $state->since,
                    $state->onset,
                    $state->severity,
                    $at,
                    $state->raisedBefore,
                    $verdict->memory,
                ),
            );
        }

        return new Step($state->remembering($verdict->memory));
    }

    /** @return Instant until when nothing happens to one that is missed, as long as it stays unseen */
    public function quietUntil(AlertState $state): Instant
    {
        $missingSince = $state->missingSince ?? $state->since;

        return $missingSince->plus($state->phase === Phase::Blind ? $this->holding->lostAfter : $this->holding->blindAfter);
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

    private function move(
        AlertState $state,
        Phase $to,
        Instant $at,
        Verdict $verdict,
        ?Instant $onset,
        ?Severity $severity,
        string $why = '',
    ): Step {
        return new Step(
            new AlertState($to, $at, $onset, $severity, null, false, $verdict->memory),
            new Transition(
                $at,
                $state->phase,
                $to,
                $severity ?? $state->severity,
                $verdict->value,
                $onset ?? $state->onset,
                $why === '' ? $verdict->who : $why,
                $verdict->numbers,
            ),
        );
    }
}

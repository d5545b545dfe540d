<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Time\Instant;

/** The climbing of a ladder: which rung comes when, whom it reaches, and what is said where it reaches nobody. */
final readonly class Climb
{
    private Hush $hush;
    private Copies $copies;

    public function __construct(private Configuration $configuration)
    {
        $this->hush = new Hush($configuration->mutes);
        $this->copies = new Copies($configuration);
    }

    /**
     * When time alone does something to it: the next rung, when nobody has it in hand any more, or when it is hushed no more.
     *
     * @param Instant|null $after what was due until then was tried; a rung that reached nobody stays due, and others come
     */
    public function nextAt(IncidentState $incident, ?Instant $after = null): ?Instant
    {
        $due = array_map(static fn(Rung $rung): Instant => $rung->dueAt, $this->rungsLeft($incident));
        if ($incident->status === IncidentStatus::Acknowledged && $incident->heldUntil !== null) {
            $due[] = $incident->heldUntil;
        }
        if ($incident->hushedUntil !== null && !$incident->isOver()) {
            $due[] = $incident->hushedUntil;
        }
        usort($due, static fn(Instant $a, Instant $b): int => $a->ms <=> $b->ms);

        return array_find($due, static fn(Instant $at): bool => $after === null || $at->isAfter($after));
    }

    /**
     * The next to be climbed that reaches somebody; of what somebody has in hand for a time the first one after that.
     *
     * @return array{Rung, Instant, non-empty-list<int>}|null with when, and whom it would reach then
     */
    public function nextRung(IncidentState $incident, Instant $now): ?array
    {
        $until = $incident->status === IncidentStatus::Acknowledged ? $incident->heldUntil : null;
        foreach ($this->rungsLeft($until === null ? $incident : $incident->climbedAnew($until)) as $rung) {
            $at = $rung->dueAt->later($now)->later($incident->hushedUntil ?? $now);
            $people = $this->reached($incident, $rung, $at);
            if ($people !== []) {
                return [$rung, $at, $people];
            }
        }

        return null;
    }

    /** @return list<int> whom the ladder tells at this moment, as it begins anew */
    public function firstReached(IncidentState $incident, Instant $at): array
    {
        $first = $this->rungs($incident)[0] ?? null;

        return $first === null || $first->dueAt->isAfter($at) ? [] : $this->reached($incident, $first, $at);
    }

    /** @return list<int> whom a rung reaches at an instant */
    private function reached(IncidentState $incident, Rung $rung, Instant $at): array
    {
        return $this->configuration->reached($rung->who, $at, $incident->owners());
    }

    /** The same with the rest of its ladder brought forward, so that the next rung is due now; null where none is left. */
    public function hastened(IncidentState $incident, Instant $at): ?IncidentState
    {
        $next = $this->rungsLeft($incident)[0] ?? null;

        return $next?->dueAt->isAfter($at) === true ? $this->movedTo($incident, $next, $at) : ($next === null ? null : $incident);
    }

    /** A rung that came due while nothing ran goes to who is on call now, not to who was then. */
    public function climbed(IncidentState $incident, Instant $at): Progress
    {
        [$state, $decisions] = $this->letGo($incident, $at);
        $next = $this->rungsLeft($state)[0] ?? null;
        if ($state->hushedUntil !== null || ($next !== null && !$next->dueAt->isAfter($at))) {
            [$state, $said] = $this->hushed($state, $at);
            array_push($decisions, ...$said);
        }
        $fallsThrough = false;
        foreach ($this->rungs($state) as $rung) {
            if (in_array($rung->round(), $incident->climbed, true)) {
                $fallsThrough = false;

                continue;
            }
            if ($rung->dueAt->isAfter($at) && !$fallsThrough) {
                break;
            }
            $people = $this->reached($state, $rung, $at);
            $fallsThrough = $people === [];
            if ($fallsThrough) {
                $decisions[] = $this->emptyRung($rung, $at);

                continue;
            }
            $state = $state->climbedTo($rung->round());
            foreach ($people as $person) {
                array_push($decisions, ...$this->tellRung($state, $rung, $person, $at));
            }
        }

        return new Progress($state, $decisions);
    }

    /**
     * Its ladder stands still while all of it is muted, and goes on when it is not any more. A rung is held when it comes due, not
     * before: a mute that is taken back in time leaves the ladder as it was.
     *
     * @return array{IncidentState, list<Decision>}
     */
    public function hushed(IncidentState $incident, Instant $at): array
    {
        $over = $this->hush->over($incident, $at);
        $next = $this->rungsLeft($incident)[0] ?? null;
        $isHeld = $next !== null && $next->dueAt->ms === $incident->hushedUntil?->ms;
        if ($over === null) {
            return $incident->hushedUntil === null ? [$incident, []] : $this->heardAgain($incident, $incident->hushedUntil, $next, $at);
        }
        [$until] = $over;
        $isDue = $next !== null && !$next->dueAt->isAfter($at) && $next->dueAt->isBefore($until);
        $said = $incident->hushedUntil?->ms === $until->ms ? [] : [Hush::line($over, $isDue ? $next->dueAt : $at)];

        return [($isHeld || $isDue ? $this->movedTo($incident, $next, $until) : $incident)->hushed($until), $said];
    }

    /**
     * What was held, or came due while nothing ran and it was hushed, is due when the hush ended.
     *
     * @param Rung|null $next that is to be climbed
     *
     * @return array{IncidentState, list<Decision>}
     */
    private function heardAgain(IncidentState $incident, Instant $hushedUntil, ?Rung $next, Instant $at): array
    {
        $ended = $hushedUntil->earlier($at);
        $wasHeld = $next !== null && ($next->dueAt->ms === $hushedUntil->ms || $next->dueAt->isBefore($ended));
        $heard = ($wasHeld ? $this->movedTo($incident, $next, $ended) : $incident)->hushed(null);
        if ($incident->isOver() || $incident->up() === []) {
            return [$heard, []];
        }
        $words = 'not all of it is muted any more, and it is not over: the ladder goes on';
        $said = new Line(TrailKind::Alert, $ended, $words, "heard {$ended->ms}");

        return [$heard, [$said, ...$this->copies->inform($heard, CopyTells::Opened, $heard->lap + 1, $at, $at)]];
    }

    /** The same with the rest of its ladder moved, so that its next rung is due then. */
    private function movedTo(IncidentState $incident, Rung $next, Instant $due): IncidentState
    {
        $begins = $this->beginsAt($incident);

        return $incident->asIfBegunAt(Instant::ofMs($begins->ms + $due->ms - $next->dueAt->ms));
    }

    /** @return list<Decision> by each of the ways; where the person is to be told as they wish, not in their quiet hours */
    private function tellRung(IncidentState $incident, Rung $rung, int $person, Instant $at): array
    {
        $quiet = $rung->by === [] ? $this->configuration->people->wishesOf($person)->quietUntil($incident->severity, $at) : null;
        $due = $quiet ?? $rung->dueAt->earlier($at);
        $round = $rung->round();
        $tells = array_map(
            static fn(string $way): Tell => new Tell(MessageKind::Raised, $round, $person, $way, $due),
            $this->configuration->waysTo($person, $rung->by, $incident->severity),
        );

        return $quiet === null ? $tells : [QuietHours::line(Rung::words($round), MessageKind::Raised, $round, $person, $quiet, $at), ...$tells];
    }

    /** It is said once, and the next rung is climbed at once. */
    private function emptyRung(Rung $rung, Instant $at): Line
    {
        $who = implode(' and ', array_map(static fn(Who $one): string => $one->words(), $rung->who));
        $isOfRota = array_all($rung->who, static fn(Who $one): bool => in_array($one->listener, [Listener::OnCall, Listener::NextOnRoster], true));
        $why = match (true) {
            $this->configuration->agreed !== null => "{$who} is nobody who agreed to be told",
            $isOfRota && $this->configuration->rosters->isEmpty() => 'there is no roster; make one',
            default => "{$who} is nobody",
        };

        return new Line(TrailKind::Failed, $rung->dueAt->earlier($at), Rung::words($rung->round()) . " reaches nobody: {$why}", "rung {$rung->round()}");
    }

    /**
     * What somebody took for a time, and is not over then, is in nobody's hands any more.
     *
     * @return array{IncidentState, list<Decision>}
     */
    private function letGo(IncidentState $incident, Instant $at): array
    {
        $until = $incident->status === IncidentStatus::Acknowledged ? $incident->heldUntil : null;
        if ($until === null || $until->isAfter($at)) {
            return [$incident, []];
        }

        $words = 'the time for which it was acknowledged is over, and it is not: the ladder begins anew';

        return [$incident->climbedAnew($at), [new Line(TrailKind::Alert, $until, $words)]];
    }

    /** @return list<Rung> that are still to be climbed */
    private function rungsLeft(IncidentState $incident): array
    {
        return array_values(
            array_filter($this->rungs($incident), static fn(Rung $rung): bool => !in_array($rung->round(), $incident->climbed, true)),
        );
    }

    /** @return list<Rung> of its ladder, while nobody has it in hand */
    private function rungs(IncidentState $incident): array
    {
        $path = $this->configuration->pathNamed($incident->path);
        $rests = $incident->status === IncidentStatus::Acknowledged && $path->ladder->until === EndsWith::Acknowledged;
        if ($incident->lookedBack || $incident->isOver() || $rests) {
            return [];
        }

        return $path->ladder->from($this->beginsAt($incident), $incident->lap);
    }

    private function beginsAt(IncidentState $incident): Instant
    {
        return $incident->lapFrom ?? $this->configuration->pathNamed($incident->path)->gather->endsAt($incident->openedAt);
    }
}

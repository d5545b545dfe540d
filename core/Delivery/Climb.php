<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Time\Instant;

/** The climbing of a ladder: which rung comes when, whom it reaches, and what is said where it reaches nobody. */
final readonly class Climb
{
    public function __construct(private Configuration $configuration)
    {
    }

    /**
     * When time alone does something to it: the next rung, or when nobody has it in hand any more.
     *
     * @param Instant|null $after what was due until then was tried; a rung that reached nobody stays due, and others come
     */
    public function nextAt(IncidentState $incident, ?Instant $after = null): ?Instant
    {
        $due = array_map(static fn(Rung $rung): Instant => $rung->dueAt, $this->rungsLeft($incident));
        if ($incident->status === IncidentStatus::Acknowledged && $incident->heldUntil !== null) {
            $due[] = $incident->heldUntil;
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
            $at = $rung->dueAt->later($now);
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

    /** A rung that came due while nothing ran goes to who is on call now, not to who was then. */
    public function climbed(IncidentState $incident, Instant $at): Progress
    {
        [$state, $decisions] = $this->letGo($incident, $at);
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
        $why = $isOfRota && $this->configuration->rosters->isEmpty() ? 'there is no roster; make one' : "{$who} is nobody";

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

        return $path->ladder->from($incident->lapFrom ?? $path->gather->endsAt($incident->openedAt), $incident->lap);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Hasten;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Decision\Withdraw;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Time\Instant;

/** The courses that alerts would have taken: the very steps that run live, where every message is taken at once and nobody acts. */
final class CourseReplay
{
    private readonly Course $course;
    /** @var array<int, IncidentState> in the order in which they opened */
    private array $states = [];
    /** @var array<int, list<array{Instant, Decision}>> of each, when and what */
    private array $decisions = [];
    /** @var array<int, string> path and group of each */
    private array $keyOf = [];
    /** @var array<string, int> path and group → its course that is not over */
    private array $openOf = [];
    /** @var array<string, int> path and group → the last of its courses that came to its end */
    private array $lastOverOf = [];
    /** @var array<int, list<Tell>> of each, what is to be told later, if it is still to be told then */
    private array $waiting = [];
    /** @var array<int, array<string, true>> of each, what is done once */
    private array $once = [];
    /** @var array<int, Instant> of each, up to when what was due was tried */
    private array $tried = [];
    /** @var array<string, int> key of an alert → the course it is up in */
    private array $upIn = [];

    public function __construct(Configuration $configuration)
    {
        $this->course = new Course($configuration);
    }

    /** @param Instant $at not before those of former events */
    public function happens(AlertRaised|AlertTurned|AlertEnded $event, Instant $at): void
    {
        $this->passTo($at);
        $place = $event instanceof AlertRaised ? $this->joinedBy($event, $at) : $this->upIn[$event->key] ?? null;
        if ($place === null && !$event instanceof AlertRaised) {
            return;
        }
        $this->take($place, $this->course->step($place === null ? null : $this->states[$place], $event, $at), $at);
        if ($event instanceof AlertRaised) {
            $this->upIn[$event->key] = $place ?? count($this->states) - 1;
        }
        if ($event instanceof AlertEnded) {
            unset($this->upIn[$event->key]);
        }
    }

    /** The course that an alert comes to; null where it opens one. */
    private function joinedBy(AlertRaised $event, Instant $at): ?int
    {
        $key = $this->course->placeOf($event, $at)->key();
        $last = $this->lastOverOf[$key] ?? null;
        $goesOn = $last !== null && $this->course->goesOn($this->states[$last], $event, $at);

        return $this->openOf[$key] ?? ($goesOn ? $last : null);
    }

    /** What is due until then is done at its time. */
    public function passTo(Instant $at): void
    {
        foreach ([...$this->openOf, ...array_keys(array_filter($this->waiting))] as $place) {
            while (true) {
                $rung = $this->states[$place]->isOver() ? null : $this->course->nextAt($this->states[$place], $this->tried[$place] ?? null);
                $told = $this->nextWaiting($place);
                $next = $told === null ? $rung : $rung?->earlier($told->dueAt) ?? $told->dueAt;
                if ($next === null || $next->isAfter($at)) {
                    break;
                }
                if ($told !== null && !$told->dueAt->isAfter($next)) {
                    $this->tellWaiting($place, $told);
                } else {
                    $this->tried[$place] = $next;
                    $this->take($place, $this->course->step($this->states[$place], new TimePassed(), $next), $next);
                }
            }
        }
    }

    /** @return list<ReplayedCourse> in the order in which they opened */
    public function courses(): array
    {
        return array_map(
            static fn(IncidentState $state, array $decisions): ReplayedCourse => new ReplayedCourse($state, $decisions),
            array_values($this->states),
            array_values($this->decisions),
        );
    }

    private function take(?int $place, Progress $progress, Instant $at): void
    {
        $place ??= count($this->states);
        if ($progress->state->lap !== ($this->states[$place] ?? null)?->lap) {
            unset($this->tried[$place]);
        }
        $this->states[$place] = $progress->state;
        $this->decisions[$place] ??= [];
        $this->waiting[$place] ??= [];
        foreach ($progress->decisions as $decision) {
            $this->carryOut($place, $decision, $at);
        }
        $key = $progress->state->place()->key();
        $former = $this->keyOf[$place] ?? $key;
        $this->keyOf[$place] = $key;
        if (($this->openOf[$former] ?? null) === $place) {
            unset($this->openOf[$former]);
        }
        if ($progress->state->isOver()) {
            $this->lastOverOf[$key] = $place;
        } else {
            $this->openOf[$key] = $place;
        }
    }

    /** Of lines with the same key there is one, and of messages of one kind and round one to a person by each way. */
    private function carryOut(int $place, Decision $decision, Instant $at): void
    {
        $once = match (true) {
            $decision instanceof Line => $decision->onceKey,
            $decision instanceof Tell => "{$decision->kind->value} {$decision->round} {$decision->person} {$decision->way}",
            default => null,
        };
        if ($once !== null) {
            if (isset($this->once[$place][$once])) {
                return;
            }
            $this->once[$place][$once] = true;
        }
        match (true) {
            $decision instanceof Tell && $decision->dueAt->isAfter($at) => $this->waiting[$place][] = $decision,
            $decision instanceof Tell => $this->tell($place, $decision, $at),
            $decision instanceof Hasten => $this->hasten($place, $decision, $at),
            $decision instanceof Withdraw => $this->withdraw($place),
            default => $this->decisions[$place][] = [$at, $decision],
        };
    }

    private function tell(int $place, Tell $tell, Instant $at): void
    {
        $this->decisions[$place][] = [$at, $tell];
        if ($tell->kind === MessageKind::Raised) {
            $this->states[$place] = $this->states[$place]->toldTo($tell->person);
        }
    }

    private function nextWaiting(int $place): ?Tell
    {
        $waiting = $this->waiting[$place] ?? [];
        usort($waiting, static fn(Tell $a, Tell $b): int => $a->dueAt->ms <=> $b->dueAt->ms);

        return $waiting[0] ?? null;
    }

    /** Whether it is still to be told is decided when it leaves, as it is live. */
    private function tellWaiting(int $place, Tell $tell): void
    {
        $this->waiting[$place] = array_values(array_filter($this->waiting[$place], static fn(Tell $one): bool => $one !== $tell));
        $why = $this->course->overtaken($this->states[$place], $tell->kind);
        $waits = $why === null ? $this->course->waits($this->states[$place], $tell->kind, $tell->dueAt) : null;
        if ($waits !== null) {
            $this->carryOut($place, $waits[1], $tell->dueAt);
            $this->waiting[$place][] = new Tell($tell->kind, $tell->round, $tell->person, $tell->way, $waits[0]);
        } elseif ($why === null) {
            $this->tell($place, $tell, $tell->dueAt);
        } else {
            $this->decisions[$place][] = [$tell->dueAt, new Line(TrailKind::HeldBack, $tell->dueAt, "not told: {$why}")];
        }
    }

    private function hasten(int $place, Hasten $hasten, Instant $at): void
    {
        if (!Wishes::passes($hasten->severity)) {
            return;
        }
        foreach ($this->waiting[$place] as $tell) {
            if ($tell->kind === MessageKind::Raised) {
                $this->tellWaiting($place, new Tell($tell->kind, $tell->round, $tell->person, $tell->way, $at));
            }
        }
        $this->withdraw($place);
    }

    private function withdraw(int $place): void
    {
        $stays = static fn(Tell $one): bool => $one->kind !== MessageKind::Raised;
        $this->waiting[$place] = array_values(array_filter($this->waiting[$place], $stays));
    }
}

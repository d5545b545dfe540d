<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
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
    /** @var array<string, int> path and group → its course that is not over */
    private array $openOf = [];
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
        $place = $event instanceof AlertRaised ? $this->openOf[$this->course->placeOf($event, $at)->key()] ?? null : $this->upIn[$event->key] ?? null;
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

    /** What is due until then is done at its time. */
    public function passTo(Instant $at): void
    {
        foreach ($this->openOf as $place) {
            while (true) {
                $next = $this->course->nextAt($this->states[$place], $this->tried[$place] ?? null);
                if ($next === null || $next->isAfter($at)) {
                    break;
                }
                $this->tried[$place] = $next;
                $this->take($place, $this->course->step($this->states[$place], new TimePassed(), $next), $next);
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
        $state = $progress->state;
        foreach ($progress->decisions as $decision) {
            if ($decision instanceof Tell && $decision->kind === MessageKind::Raised) {
                $state = $state->toldTo($decision->person);
            }
        }
        $place ??= count($this->states);
        $this->states[$place] = $state;
        $this->decisions[$place] ??= [];
        foreach ($progress->decisions as $decision) {
            if (!$this->wasSaid($place, $decision)) {
                $this->decisions[$place][] = [$at, $decision];
            }
        }
        if ($state->isOver()) {
            unset($this->openOf[$state->place()->key()]);
        } else {
            $this->openOf[$state->place()->key()] = $place;
        }
    }

    /** Of lines with the same key there is one. */
    private function wasSaid(int $place, Decision $decision): bool
    {
        return $decision instanceof Line
            && $decision->onceKey !== null
            && array_any($this->decisions[$place], static fn(array $one): bool => $one[1] instanceof Line && $one[1]->onceKey === $decision->onceKey);
    }
}

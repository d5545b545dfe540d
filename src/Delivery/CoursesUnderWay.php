<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Platform\Clock;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\Decision\Hasten;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Decision\Withdraw;
use Olivine\Core\Delivery\Decision\WithdrawOtherWays;
use Olivine\Core\Delivery\Event;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Delivery\Event\SplitOff;
use Olivine\Core\Delivery\IncidentPlace;
use Olivine\Core\Delivery\Progress;
use Olivine\Core\Time\Instant;

/**
 * The incidents that one transaction is about: each is held by it, so whoever else changes one does so before or after. What
 * their course decides becomes lines of the trail and messages to send; how they stand is kept with the flush at its end.
 */
final class CoursesUnderWay
{
    private readonly Course $course;
    /** @var array<int, Course> of rehearsals: incident → by what it goes on */
    private array $rehearsed = [];
    /** @var array<int, CourseUnderWay> by the incident */
    private array $held = [];
    /** @var array<string, int> path and group → their incident that is not over */
    private array $openOf = [];
    /** @var array<string, int> key of an alert → the incident it is up in */
    private array $upIn = [];

    public function __construct(
        private readonly Configuration $configuration,
        private readonly EntityManagerInterface $entities,
        private readonly IncidentRepository $incidents,
        private readonly IncidentAlertRepository $alerts,
        private readonly DeliveryRepository $deliveries,
        private readonly Trail $trail,
        private readonly Clock $clock,
    ) {
        $this->course = new Course($configuration);
    }

    /** The incident that an alert comes to; null where it opens one. */
    public function joinedBy(AlertRaised $event, Instant $at): ?CourseUnderWay
    {
        $place = $this->course->placeOf($event, $at);
        $known = $this->held[$this->openOf[$place->key()] ?? 0] ?? null;
        if ($known !== null && !$known->state->isOver()) {
            return $known;
        }
        if ($known !== null) {
            // What is kept must say that it is over before it is asked which one is not.
            $this->entities->flush();
        }
        $incident = $this->incidents->heldOpenAt($place);

        return $incident === null ? $this->comingUpAgain($event, $place, $at) : $this->taken($incident);
    }

    /** One that was over for so short a time that it goes on. */
    private function comingUpAgain(AlertRaised $event, IncidentPlace $place, Instant $at): ?CourseUnderWay
    {
        $reopens = $this->configuration->answering($event->about, $at)->reopens;
        $incident = $reopens === null ? null : $this->incidents->heldLastOverAt($place, $at->minus($reopens));
        $over = $incident === null ? null : $this->taken($incident);

        return $over !== null && $this->course->goesOn($over->state, $event, $at) ? $over : null;
    }

    /** The incident that an alert is up in; where somebody resolved it in this moment, its alerts went with it. */
    public function ofAlert(int $ruleId, string $labelsHash): ?CourseUnderWay
    {
        $key = IncidentStates::key($ruleId, $labelsHash);
        $known = $this->held[$this->upIn[$key] ?? 0] ?? null;
        if ($known !== null) {
            return $known->isUp($key) ? $known : null;
        }
        $alert = $this->alerts->raised($ruleId, $labelsHash);
        $one = $alert === null ? null : $this->taken($this->incidents->held($alert->incidentId));

        return $one === null || $one->state->isOver() || !$one->isUp($key) ? null : $one;
    }

    /** As it is now, and nobody else changes it until the transaction is over. */
    public function of(Incident $incident): CourseUnderWay
    {
        if (!isset($this->held[$incident->id()])) {
            $this->entities->refresh($incident, LockMode::PESSIMISTIC_WRITE);
        }

        return $this->taken($incident);
    }

    public function open(AlertRaised $event, Instant $at): CourseUnderWay
    {
        $one = $this->begun($this->course->step(null, $event, $at));
        $this->upIn[$event->key] = $one->incident->id();

        return $one;
    }

    /** An incident of its own, of alerts that another one lets out. */
    public function split(SplitOff $event, Instant $at): CourseUnderWay
    {
        return $this->begun($this->course->step(null, $event, $at));
    }

    private function begun(Progress $progress): CourseUnderWay
    {
        $state = $progress->state;
        $incident = new Incident($state->path, $state->group, $state->title, $state->severity, $state->openedAt, $state->lookedBack);
        $incident->lapFrom = $state->lapFrom;
        $incident->hushedUntil = $state->hushedUntil;
        $incident->rehearsedWith = $this->configuration->agreed;
        $this->entities->persist($incident);
        $this->entities->flush();
        $one = new CourseUnderWay($incident, $state, []);
        $this->remember($one);
        $this->carryOut($incident, $progress->decisions);

        return $one;
    }

    public function step(CourseUnderWay $one, Event $event, Instant $at): void
    {
        $progress = $this->courseOf($one->incident)->step($one->state, $event, $at);
        $isOfOne = $event instanceof AlertRaised || $event instanceof AlertTurned || $event instanceof AlertEnded;
        $one->becomes($progress->state, $at, $isOfOne ? $event->key : null);
        if (!$progress->state->isOver() && $one->incident->rehearsedWith === null) {
            $this->openOf[$progress->state->place()->key()] = $one->incident->id();
        }
        if ($event instanceof AlertRaised) {
            $this->upIn[$event->key] = $one->incident->id();
        }
        $this->carryOut($one->incident, $progress->decisions);
    }

    private function courseOf(Incident $incident): Course
    {
        $isAnother = $incident->rehearsedWith !== $this->configuration->agreed;

        return $isAnother ? $this->rehearsed[$incident->id()] ??= new Course($incident->goesBy($this->configuration)) : $this->course;
    }

    private function taken(Incident $incident): CourseUnderWay
    {
        $id = $incident->id();
        if (!isset($this->held[$id])) {
            $alerts = [];
            foreach ($this->alerts->heldOf($id) as $alert) {
                $alerts[IncidentStates::key($alert->ruleId, $alert->labelsHash)] = $alert;
            }
            $raises = $this->deliveries->raisedHeldOf($id);
            $told = array_map(
                static fn(Delivery $raise): int => $raise->personId,
                array_filter($raises, static fn(Delivery $raise): bool => $raise->wasTried()),
            );
            $state = IncidentStates::of($incident, $alerts, IncidentStates::climbed($raises), array_values(array_unique($told)));
            $this->remember(new CourseUnderWay($incident, $state, $alerts));
        }

        return $this->held[$id];
    }

    private function remember(CourseUnderWay $one): void
    {
        $id = $one->incident->id();
        $this->held[$id] = $one;
        if (!$one->state->isOver() && $one->incident->rehearsedWith === null) {
            $this->openOf[$one->state->place()->key()] = $id;
            $this->upIn = array_fill_keys(array_keys($one->state->up()), $id) + $this->upIn;
        }
    }

    /** @param list<Decision> $decisions */
    private function carryOut(Incident $incident, array $decisions): void
    {
        $incidentId = $incident->id();
        foreach ($decisions as $decision) {
            match (true) {
                $decision instanceof Line => $this->trail->add(
                    $incidentId,
                    $decision->at,
                    $decision->kind,
                    $decision->words,
                    $decision->onceKey,
                ),
                $decision instanceof Tell => $this->deliveries->plan(
                    $incident,
                    $decision->kind,
                    $decision->round,
                    $decision->person,
                    $decision->way,
                    $decision->dueAt,
                    $this->clock->now(),
                ),
                $decision instanceof Hasten => $this->deliveries->hasten($incidentId, $decision->severity, $this->clock->now()),
                $decision instanceof Withdraw => $this->deliveries->drop($incidentId, $decision->why),
                $decision instanceof WithdrawOtherWays => $this->deliveries->dropOtherWays(
                    $incidentId,
                    $decision->kind,
                    $decision->round,
                    $decision->person,
                    $decision->way,
                    $decision->keep,
                ),
                default => throw new \LogicException('Nobody carries out ' . $decision::class),
            };
        }
    }
}

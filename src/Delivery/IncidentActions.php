<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\AcknowledgeFields;
use Olivine\App\Delivery\Definition\AssignFields;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Role;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Event\Acknowledged;
use Olivine\Core\Delivery\Event\Assigned;
use Olivine\Core\Delivery\Event\Declined;
use Olivine\Core\Delivery\Event\HandedBack;
use Olivine\Core\Delivery\Event\ResolvedByHand;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Duration;

/**
 * What people do to an incident: take it, end it, say something. What changes how it stands is done inside one
 * transaction that holds it, so of several who do the same at once one does it and the others hear so.
 */
final readonly class IncidentActions
{
    public function __construct(
        private Courses $courses,
        private Trail $trail,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem 409 where it stands otherwise by now */
    public function acknowledge(Incident $incident, Person $person, AcknowledgeFields $fields): void
    {
        if (!$this->acknowledgeIfOpen($incident, $person, fields: $fields)) {
            throw new Problem(409, "Incident {$incident->id()} is {$incident->status->value} already");
        }
    }

    /** @return bool whether it was there to be taken */
    public function acknowledgeIfOpen(
        Incident $incident,
        Person $person,
        string $how = '',
        AcknowledgeFields $fields = new AcknowledgeFields(),
    ): bool {
        $courses = $this->courses->begin();
        $one = $courses->of($incident);
        if ($one->state->status !== IncidentStatus::Open) {
            return false;
        }
        $now = $this->clock->now();
        $until = $fields->forSeconds === null ? null : $now->plus(Duration::ofSeconds($fields->forSeconds));
        $courses->step($one, new Acknowledged($person->id(), $person->name, $how, $until), $now);
        $this->audit->record(
            'acknowledged',
            "incident {$incident->id()}",
            ['status' => 'open'],
            ['status' => 'acknowledged', 'until' => $until],
            $person,
        );
        if (trim($fields->note) !== '') {
            $this->note($incident, $person, $fields->note);
        }

        return true;
    }

    /**
     * Gives it into somebody's hands, maybe out of somebody else's.
     *
     * @param Person $to who has it from now on
     *
     * @throws Problem 409 where it is over by now; 422 where they may not act
     */
    public function assign(Incident $incident, Person $to, Person $by, AssignFields $fields): void
    {
        if (!$to->mayAct() || $to->role === Role::Viewer) {
            throw Problem::field('person', "{$to->name} may not answer incidents; give it to somebody who may");
        }
        if ($incident->rehearsedWith !== null && !in_array($to->id(), $incident->rehearsedWith, true)) {
            throw Problem::field('person', "{$to->name} did not agree to this rehearsal; nobody else is told of it");
        }
        $courses = $this->courses->begin();
        $one = $courses->of($incident);
        if ($one->state->isOver()) {
            throw new Problem(409, "Incident {$incident->id()} is over already");
        }
        $now = $this->clock->now();
        $until = $fields->forSeconds === null ? null : $now->plus(Duration::ofSeconds($fields->forSeconds));
        $before = ['by' => $incident->acknowledgedBy];
        $courses->step($one, new Assigned($to->id(), $to->name, $by->id(), $by->name, $fields->note, $until), $now);
        $this->audit->record('gave', "incident {$incident->id()}", $before, ['by' => $to->id(), 'note' => $fields->note, 'until' => $until], $by);
    }

    /**
     * Gives it back: the ladder goes on from where it stands.
     *
     * @throws Problem 409 where it stands otherwise by now
     */
    public function handBack(Incident $incident, Person $person): void
    {
        $courses = $this->courses->begin();
        $one = $courses->of($incident);
        if ($one->state->status !== IncidentStatus::Acknowledged) {
            throw new Problem(409, "Incident {$incident->id()} is {$incident->status->value}, nobody holds it");
        }
        $courses->step($one, new HandedBack($person->id(), $person->name), $this->clock->now());
        $this->audit->record(
            'took acknowledgement back',
            "incident {$incident->id()}",
            ['status' => 'acknowledged'],
            ['status' => 'open'],
            $person,
        );
    }

    /**
     * Whoever was told cannot see to it: it climbs at once.
     *
     * @throws Problem 409 where it is over by now
     */
    public function cannot(Incident $incident, Person $person, string $how = ''): void
    {
        $courses = $this->courses->begin();
        $one = $courses->of($incident);
        if ($one->state->isOver()) {
            throw new Problem(409, "Incident {$incident->id()} is over already");
        }
        $before = ['status' => $incident->status->value];
        $courses->step($one, new Declined($person->id(), $person->name, $how), $this->clock->now());
        $this->audit->record('cannot see to', "incident {$incident->id()}", $before, ['status' => $incident->status->value], $person);
    }

    /** @throws Problem 409 where it stands otherwise by now */
    public function resolve(Incident $incident, Person $person): void
    {
        $courses = $this->courses->begin();
        $one = $courses->of($incident);
        if ($one->state->isOver()) {
            throw new Problem(409, "Incident {$incident->id()} is resolved already");
        }
        $before = $incident->status->value;
        $courses->step($one, new ResolvedByHand($person->id(), $person->name), $this->clock->now());
        $incident->resolvedBy = $person->id();
        $this->audit->record('resolved', "incident {$incident->id()}", ['status' => $before], ['status' => 'resolved'], $person);
    }

    public function note(Incident $incident, Person $person, string $words): void
    {
        $this->trail->add($incident->id(), $this->clock->now(), TrailKind::Note, "{$person->name}: {$words}");
        $this->audit->record('noted', "incident {$incident->id()}", null, ['note' => $words], $person);
    }
}

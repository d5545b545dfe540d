<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;

/**
 * What people do to an incident: take it, end it, say something. What changes how it stands is done inside one
 * transaction that holds it, so of several who do the same at once one does it and the others hear so.
 */
final readonly class IncidentActions
{
    public function __construct(
        private EntityManagerInterface $entities,
        private IncidentAlertRepository $alerts,
        private Trail $trail,
        private Audit $audit,
        private DeliveryPlan $plan,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem 409 where it stands otherwise by now */
    public function acknowledge(Incident $incident, Person $person): void
    {
        if (!$this->acknowledgeIfOpen($incident, $person)) {
            throw new Problem(409, "Incident {$incident->id()} is {$incident->status->value} already");
        }
    }

    /** @return bool whether it was there to be taken */
    public function acknowledgeIfOpen(Incident $incident, Person $person, string $how = ''): bool
    {
        $this->hold($incident);
        if ($incident->status !== IncidentStatus::Open) {
            return false;
        }
        $now = $this->clock->now();
        $incident->status = IncidentStatus::Acknowledged;
        $incident->acknowledgedAt = $now;
        $incident->acknowledgedBy = $person->id();
        $this->trail->add(
            $incident->id(),
            $now,
            TrailKind::Person,
            sprintf(
                '%s acknowledged%s, %s after it opened',
                $person->name,
                $how === '' ? '' : " {$how}",
                $now->since($incident->openedAt)->words(),
            ),
        );
        $this->audit->record(
            'acknowledged',
            "incident {$incident->id()}",
            ['status' => 'open'],
            ['status' => 'acknowledged'],
            $person,
        );

        return true;
    }

    /**
     * Gives it back: the ladder goes on from where it stands.
     *
     * @throws Problem 409 where it stands otherwise by now
     */
    public function handBack(Incident $incident, Person $person): void
    {
        $this->hold($incident);
        if ($incident->status !== IncidentStatus::Acknowledged) {
            throw new Problem(409, "Incident {$incident->id()} is {$incident->status->value}, nobody holds it");
        }
        $incident->status = IncidentStatus::Open;
        $incident->acknowledgedAt = null;
        $incident->acknowledgedBy = null;
        $this->trail->add(
            $incident->id(),
            $this->clock->now(),
            TrailKind::Person,
            "{$person->name} took the acknowledgement back; the ladder goes on",
        );
        $this->audit->record(
            'took acknowledgement back',
            "incident {$incident->id()}",
            ['status' => 'acknowledged'],
            ['status' => 'open'],
            $person,
        );
    }

    /** @throws Problem 409 where it stands otherwise by now */
    public function resolve(Incident $incident, Person $person): void
    {
        $this->hold($incident);
        if ($incident->status === IncidentStatus::Resolved) {
            throw new Problem(409, "Incident {$incident->id()} is resolved already");
        }
        $now = $this->clock->now();
        $before = $incident->status->value;
        $incident->status = IncidentStatus::Resolved;
        $incident->resolvedAt = $now;
        $incident->resolvedBy = $person->id();
        $left = $this->alerts->endAll($incident->id(), $now);
        $this->trail->add(
            $incident->id(),
            $now,
            TrailKind::Person,
            $person->name .
                ' resolved' .
                ($left > 0
                    ? " while {$left} " .
                        ($left === 1 ? 'alert was' : 'alerts were') .
                        ' still raised; a new raise opens a new incident'
                    : ''),
        );
        $this->plan->tellRecovery($incident, $now);
        $this->audit->record('resolved', "incident {$incident->id()}", ['status' => $before], ['status' => 'resolved'], $person);
    }

    public function note(Incident $incident, Person $person, string $words): void
    {
        $this->trail->add($incident->id(), $this->clock->now(), TrailKind::Note, "{$person->name}: {$words}");
        $this->audit->record('noted', "incident {$incident->id()}", null, ['note' => $words], $person);
    }

    /** Nobody else changes it until the transaction is over, and it is seen as it is now. */
    private function hold(Incident $incident): void
    {
        $this->entities->refresh($incident, LockMode::PESSIMISTIC_WRITE);
    }
}

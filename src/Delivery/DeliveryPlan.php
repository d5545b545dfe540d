<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\SetAside;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Rota;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Plans who is told, as rows under a key of (incident, kind, round, person, channel): planning twice plans once.
 */
final readonly class DeliveryPlan
{
    public const CHANNEL = 'e-mail';

    public function __construct(
        private IncidentRepository $incidents,
        private DeliveryRepository $deliveries,
        private Settings $settings,
        private Rota $rota,
        private Trail $trail,
        private SetAside $aside,
        private Clock $clock = new Clock(),
    ) {
    }

    public function gather(): Duration
    {
        return $this->settings->ladder()->gather;
    }

    public function ladder(): Ladder
    {
        return $this->settings->ladder();
    }

    /** Climbs every rung that is due. */
    public function climb(Instant $now): void
    {
        $open = $this->incidents->climbing();
        $rotation = $open === [] ? null : $this->rota->rotation();
        foreach ($open as $incident) {
            $this->aside->unless(
                'dispatcher',
                "the rungs of incident {$incident->id()}",
                fn() => $this->climbOne($incident, $rotation, $now),
            );
        }
    }

    private function climbOne(Incident $incident, ?Rotation $rotation, Instant $now): void
    {
        // A rung that was climbed stays climbed, also when the rota changes afterwards.
        $climbed = array_map(static fn(Delivery $one): int => $one->round, $this->deliveries->raisedOf($incident->id()));
        foreach ($this->ladder()->due($incident->openedAt, null, $now) as $rung) {
            if (in_array($rung->number, $climbed, true)) {
                continue;
            }
            $shift = $rotation?->at($rung->dueAt);
            if ($shift === null) {
                $this->trail->add(
                    $incident->id(),
                    $rung->dueAt,
                    TrailKind::Failed,
                    "rung {$rung->number} reaches nobody: no one takes shifts; give people a place in the rota",
                    "rung {$rung->number}",
                );
                continue;
            }
            $person = $rung->listener === Listener::OnCall ? $shift->person : $shift->nextPerson;
            $this->plan($incident->id(), DeliveryKind::Raised, $rung->number, $person, $rung->dueAt);
        }
    }

    /** Whoever was told hears that it grew worse. */
    public function tellWorse(Incident $incident, Instant $at): void
    {
        $this->tellAll($incident, DeliveryKind::Worse, $incident->severity->rank(), $at);
    }

    /** Whoever was told hears that it is over. */
    public function tellRecovery(Incident $incident, Instant $at): void
    {
        $this->tellAll($incident, DeliveryKind::Recovered, 1, $at);
        $this->deliveries->drop($incident->id(), 'the incident was over before this was sent');
    }

    /** Whoever was told hears that nobody knows how it is, which is no recovery. */
    public function tellLost(Incident $incident, Instant $at): void
    {
        $this->tellAll($incident, DeliveryKind::Lost, 1, $at);
    }

    private function tellAll(Incident $incident, DeliveryKind $kind, int $round, Instant $at): void
    {
        foreach ($this->deliveries->told($incident->id()) as $person) {
            $this->plan($incident->id(), $kind, $round, $person, $at);
        }
    }

    private function plan(int $incidentId, DeliveryKind $kind, int $round, int $person, Instant $dueAt): void
    {
        $this->deliveries->plan($incidentId, $kind, $round, $person, self::CHANNEL, $dueAt, $this->clock->now());
    }
}

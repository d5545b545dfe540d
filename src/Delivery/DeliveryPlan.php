<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\SetAside;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Rota;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Roster\Rotation;

/**
 * Plans who is told, as rows under a key of (incident, kind, round, person, channel): planning twice plans once.
 */
final readonly class DeliveryPlan
{
    public const CHANNEL = 'e-mail';

    public function __construct(
        private Database $database,
        private Settings $settings,
        private Rota $rota,
        private Trail $trail,
        private SetAside $aside,
    ) {
    }

    public function gatherMs(): int
    {
        return $this->settings->ladder()->gatherMs;
    }

    public function ladder(): Ladder
    {
        return $this->settings->ladder();
    }

    /** Climbs every rung that is due. */
    public function climb(int $nowMs): void
    {
        $open = $this->database->connection->fetchAllAssociative(
            "SELECT id, opened_at FROM incident WHERE status = 'open' AND replayed = 0",
        );
        $rotation = $open === [] ? null : $this->rota->rotation();
        foreach ($open as $row) {
            $id = (int) $row['id'];
            $this->aside->unless(
                'dispatcher',
                "the rungs of incident {$id}",
                fn() => $this->climbOne($id, (int) $row['opened_at'], $rotation, $nowMs),
            );
        }
    }

    private function climbOne(int $id, int $openedAtMs, ?Rotation $rotation, int $nowMs): void
    {
        // A rung that was climbed stays climbed, also when the rota changes afterwards.
        $climbed = array_map(
            intval(...),
            $this->database->connection->fetchFirstColumn(
                "SELECT round FROM delivery WHERE incident_id = ? AND kind = 'raised'",
                [$id],
            ),
        );
        foreach ($this->ladder()->due($openedAtMs, null, $nowMs) as $rung) {
            if (in_array($rung->number, $climbed, true)) {
                continue;
            }
            $shift = $rotation?->at($rung->dueAtMs);
            if ($shift === null) {
                $this->trail->add(
                    $id,
                    $rung->dueAtMs,
                    TrailKind::Failed,
                    "rung {$rung->number} reaches nobody: no one takes shifts; give people a place in the rota",
                    "rung {$rung->number}",
                );
                continue;
            }
            $person = $rung->listener === Listener::OnCall ? $shift->person : $shift->nextPerson;
            $this->plan($id, 'raised', $rung->number, $person, $rung->dueAtMs);
        }
    }

    /** Whoever was told hears that it grew worse. */
    public function tellWorse(Incident $incident, int $atMs): void
    {
        foreach ($this->told($incident->id()) as $person) {
            $this->plan($incident->id(), 'worse', $incident->severity->rank(), $person, $atMs);
        }
    }

    /** Whoever was told hears that it is over. */
    public function tellRecovery(Incident $incident, int $atMs): void
    {
        foreach ($this->told($incident->id()) as $person) {
            $this->plan($incident->id(), 'recovered', 1, $person, $atMs);
        }
        $this->database->connection->executeStatement(
            "UPDATE delivery SET status = 'dropped', answer = 'the incident was over before this was sent'
             WHERE incident_id = ? AND kind = 'raised' AND status = 'planned' AND attempts = 0",
            [$incident->id()],
        );
    }

    /** Whoever was told hears that nobody knows how it is, which is no recovery. */
    public function tellLost(Incident $incident, int $atMs): void
    {
        foreach ($this->told($incident->id()) as $person) {
            $this->plan($incident->id(), 'lost', 1, $person, $atMs);
        }
    }

    /** @return list<int> */
    private function told(int $incidentId): array
    {
        return array_map(
            intval(...),
            $this->database->connection->fetchFirstColumn(
                "SELECT DISTINCT person_id FROM delivery WHERE incident_id = ? AND kind = 'raised' AND (attempts > 0 OR status = 'sent')",
                [$incidentId],
            ),
        );
    }

    private function plan(int $incidentId, string $kind, int $round, int $person, int $dueAtMs): void
    {
        $this->database->insertNew(
            'delivery',
            [
                'incident_id',
                'kind',
                'round',
                'person_id',
                'channel',
                'due_at',
                'status',
                'attempts',
                'next_at',
                'answer',
                'message_key',
            ],
            [
                [
                    $incidentId,
                    $kind,
                    $round,
                    $person,
                    self::CHANNEL,
                    $dueAtMs,
                    'planned',
                    0,
                    Clock::nowMs(),
                    '',
                    sprintf('incident-%d.%s.%d.%d.%s', $incidentId, $kind, $round, $person, bin2hex(random_bytes(6))),
                ],
            ],
        );
    }
}

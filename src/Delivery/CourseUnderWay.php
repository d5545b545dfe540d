<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\Core\Delivery\GroupedAlert;
use Olivine\Core\Delivery\IncidentState;
use Olivine\Core\Time\Instant;

/** An incident that is held by a transaction: as it is kept, and as its course sees it. */
final class CourseUnderWay
{
    /** @param array<string, IncidentAlert> $alerts by their keys */
    public function __construct(public readonly Incident $incident, public IncidentState $state, private array $alerts)
    {
    }

    public function alert(string $key): ?IncidentAlert
    {
        return $this->alerts[$key] ?? null;
    }

    public function isUp(string $key): bool
    {
        return ($this->state->alerts[$key] ?? null)?->isUp() === true;
    }

    public function add(string $key, IncidentAlert $alert): void
    {
        $this->alerts[$key] = $alert;
    }

    /**
     * What is kept follows.
     *
     * @param string|null $key of the alert that was meant; null: any of them may be otherwise than before
     */
    public function becomes(IncidentState $state, Instant $at, ?string $key): void
    {
        foreach ($key === null ? $state->alerts : [$key => $state->alerts[$key] ?? null] as $of => $alert) {
            if ($alert !== null && isset($this->alerts[$of])) {
                self::follow($this->alerts[$of], $alert);
            }
        }
        if ($this->state->heldBy !== $state->heldBy) {
            $this->incident->acknowledgedBy = $state->heldBy;
            $this->incident->acknowledgedAt = $state->heldBy === null ? null : $at;
        }
        if (!$state->isOver()) {
            $this->incident->resolvedBy = null;
        }
        $this->incident->path = $state->path;
        $this->incident->service = $state->group;
        $this->incident->heldUntil = $state->heldUntil;
        $this->incident->lap = $state->lap;
        $this->incident->lapFrom = $state->lapFrom;
        $this->incident->hushedUntil = $state->hushedUntil;
        $this->incident->title = $state->title;
        $this->incident->severity = $state->severity;
        $this->incident->status = $state->status;
        $this->incident->resolvedAt = $state->overAt;
        $this->state = $state;
    }

    private static function follow(IncidentAlert $kept, GroupedAlert $alert): void
    {
        if ($kept->severity !== $alert->severity) {
            $kept->severity = $alert->severity;
            $kept->matchedBy($alert->about);
        }
        if ($alert->endedAt !== null && $kept->clearedAt === null) {
            $kept->end($alert->endedAt, $alert->end);
        }
    }
}

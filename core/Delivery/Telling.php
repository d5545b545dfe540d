<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Time\Instant;

/** Whoever knows of an incident hears what becomes of it: that it is worse, that it is over; and so do the copies. */
final readonly class Telling
{
    private Copies $copies;
    private Hush $hush;

    public function __construct(private Configuration $configuration)
    {
        $this->hush = new Hush($configuration->mutes);
        $this->copies = new Copies($configuration);
    }

    /**
     * @param list<int> $but people who are told more at this moment
     *
     * @return list<Decision>
     */
    public function worse(IncidentState $incident, int $round, Instant $at, array $but = []): array
    {
        $over = $this->hush->over($incident, $at);
        if ($over !== null) {
            return [Hush::line($over, $at)];
        }
        $told = $this->all($incident, MessageKind::Worse, $round, $at, $but);

        return [...$told, ...$this->copies->inform($incident, CopyTells::Worse, $round, $at, $at)];
    }

    /** @return list<Decision> */
    public function over(IncidentState $incident, MessageKind $kind, Instant $at): array
    {
        $round = $incident->lap + 1;

        return [...$this->all($incident, $kind, $round, $at), ...$this->copies->inform($incident, CopyTells::Resolved, $round, $at, $at)];
    }

    /**
     * Whoever was told, and whoever has it in hand, once each, and not in their quiet hours; who has it in hand is up.
     *
     * @param list<int> $but
     *
     * @return list<Decision>
     */
    private function all(IncidentState $incident, MessageKind $kind, int $round, Instant $at, array $but = []): array
    {
        if ($incident->lookedBack) {
            return [];
        }
        $people = $incident->heldBy === null ? $incident->told : [...$incident->told, $incident->heldBy];
        $tells = [];
        foreach (array_diff(array_unique($people), $but) as $person) {
            $quiet = $person === $incident->heldBy ? null : $this->configuration->people->wishesOf($person)->quietUntil($incident->severity, $at);
            if ($quiet !== null) {
                $tells[] = QuietHours::line($kind === MessageKind::Worse ? 'that it is worse' : 'that it is over', $kind, $round, $person, $quiet, $at);
            }
            foreach ($this->configuration->waysTo($person, [], $incident->severity) as $way) {
                $tells[] = new Tell($kind, $round, $person, $way, $quiet ?? $at);
            }
        }

        return $tells;
    }
}

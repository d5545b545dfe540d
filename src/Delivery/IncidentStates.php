<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\Core\Delivery\GroupedAlert;
use Olivine\Core\Delivery\IncidentState;
use Olivine\Core\Rule\Phase;

/** Incidents as they are kept, as their course sees them. */
final readonly class IncidentStates
{
    /**
     * @param array<string, IncidentAlert> $alerts  by their keys
     * @param list<int>                    $climbed rungs
     * @param list<int>                    $told    people
     */
    public static function of(Incident $incident, array $alerts = [], array $climbed = [], array $told = []): IncidentState
    {
        return new IncidentState(
            $incident->path,
            $incident->service,
            $incident->title,
            $incident->severity,
            $incident->openedAt,
            $incident->replayed,
            $incident->status,
            array_map(self::alert(...), $alerts),
            $climbed,
            array_values(array_unique([...$incident->toldBefore ?? [], ...$told])),
            $incident->acknowledgedBy,
            $incident->resolvedAt,
            $incident->heldUntil,
            $incident->lap,
            $incident->lapFrom,
            $incident->hushedUntil,
        );
    }

    /**
     * What was withdrawn, as somebody had it in hand, is told when nobody has it any more.
     *
     * @param list<Delivery> $raises that tell of it
     *
     * @return list<int> rounds of the rungs that were climbed
     */
    public static function climbed(array $raises): array
    {
        $climbed = array_filter($raises, static fn(Delivery $raise): bool => $raise->status !== DeliveryStatus::Dropped);

        return array_values(array_unique(array_map(static fn(Delivery $raise): int => $raise->round, $climbed)));
    }

    public static function key(int $ruleId, string $labelsHash): string
    {
        return "{$ruleId} {$labelsHash}";
    }

    private static function alert(IncidentAlert $alert): GroupedAlert
    {
        return new GroupedAlert($alert->severity, $alert->raisedAt, $alert->about(), $alert->clearedAt, Phase::tryFrom($alert->ended));
    }
}

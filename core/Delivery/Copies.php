<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** Who else is told: every copy that matches informs, of each kind and round once. */
final readonly class Copies
{
    public function __construct(private Configuration $configuration)
    {
    }

    /**
     * @param Instant                     $due   not before then
     * @param list<LabelSet>|null         $about the alerts by which it is matched; null: all of the incident's
     * @param array<string, GroupedAlert> $known alerts of which it informed before
     *
     * @return list<Tell>
     */
    public function inform(IncidentState $incident, CopyTells $what, int $round, Instant $due, Instant $at, ?array $about = null, array $known = []): array
    {
        $copies = array_filter($this->configuration->copies, static fn(Copy $copy): bool => in_array($what, $copy->tells, true));
        if ($copies === [] || $incident->lookedBack) {
            return [];
        }
        $hush = new Hush($this->configuration->mutes);
        // Of what was muted as it came up nobody heard, so nobody hears of its end either.
        $heard = $what === CopyTells::Resolved
            ? static fn(GroupedAlert $alert): bool => $hush->hears($alert->about, $alert->raisedAt) || $hush->hears($alert->about, $at)
            : static fn(GroupedAlert $alert): bool => $hush->hears($alert->about, $at);
        $about = $about === null
            ? array_map(static fn(GroupedAlert $alert): LabelSet => $alert->about, array_values(array_filter($incident->alerts, $heard)))
            : array_values(array_filter($about, static fn(LabelSet $one): bool => $hush->hears($one, $at)));
        $tells = [];
        foreach ($copies as $copy) {
            if (!array_any($about, static fn(LabelSet $one): bool => $copy->informsOf($one, $at))) {
                continue;
            }
            if ($what !== CopyTells::Opened && $this->isYetToHear($copy, $incident, $at)) {
                continue;
            }
            if (array_any($known, static fn(GroupedAlert $one): bool => $copy->informsOf($one->about, $one->raisedAt))) {
                continue;
            }
            $then = $copy->at?->from($due) ?? $due;
            foreach ($this->readersOf($copy, $incident, $then) as [$person, $way, $from]) {
                $tells[] = new Tell($what->message(), $round, $person, $way, $from);
            }
        }

        return $tells;
    }

    /** Who is yet to be told that it opened hears then how it is; of what is over before that nothing is told. */
    private function isYetToHear(Copy $copy, IncidentState $incident, Instant $at): bool
    {
        $gathered = $incident->lapFrom ?? $this->configuration->pathNamed($incident->path)->gather->endsAt($incident->openedAt);
        $hears = $copy->at?->from($gathered) ?? $gathered;

        return in_array(CopyTells::Opened, $copy->tells, true) && $hears->isAfter($at);
    }

    /** @return list<array{int, string, Instant}> person, way, and not before when */
    private function readersOf(Copy $copy, IncidentState $incident, Instant $at): array
    {
        if ($copy->who === []) {
            return array_map(static fn(string $way): array => [Copy::NOBODY_IN_PARTICULAR, $way, $at], $copy->by);
        }
        $readers = [];
        foreach ($this->configuration->reached($copy->who, $at, $incident->owners()) as $person) {
            $from = $this->configuration->people->wishesOf($person)->quietUntil($incident->severity, $at) ?? $at;
            foreach ($this->configuration->waysTo($person, $copy->by, $incident->severity) as $way) {
                $readers[] = [$person, $way, $from];
            }
        }

        return $readers;
    }
}

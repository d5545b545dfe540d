<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Answer\ShownFairness;
use Olivine\App\Roster\Answer\ShownShare;
use Olivine\App\Roster\Answer\ShownShift;
use Olivine\App\Roster\Answer\WhatIf;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\Entity\RosterRevision;
use Olivine\App\Roster\Repository\RosterRevisionRepository;
use Olivine\Core\Roster\Burden;
use Olivine\Core\Roster\Fairness;
use Olivine\Core\Roster\FairShare;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** How fairly a roster was carried over the last quarter, and how it would be over the next one if it were changed. */
final readonly class FairnessView
{
    private const QUARTER_DAYS = 91;
    private const SHOWN_DAYS = 14;
    private const STILL_EVEN = 1.2;

    public function __construct(
        private KeptRosters $kept,
        private RosterRevisionRepository $revisions,
        private RosterKeeping $keeping,
        private DeliveryRepository $deliveries,
        private PersonRepository $people,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem where the roster cannot be read any more */
    public function lastQuarter(KeptRoster $roster): ShownFairness
    {
        $to = $this->clock->now();
        $from = $to->minus(Duration::ofDays(self::QUARTER_DAYS));
        $history = $this->kept->histories($from)[$roster->id()] ?? throw new Problem(409, 'This roster cannot be read any more');
        $begins = $this->begins($roster->id());
        $shifts = $history->shifts($begins->later($from), $to);

        return $this->shown($shifts, $this->zone($roster->id()), $this->namedIn($roster->id(), $from), $this->wakings($shifts, $from, $to));
    }

    /**
     * The next quarter as it is and as it would be.
     *
     * @throws Problem naming the field
     */
    public function whatIf(KeptRoster $roster, RosterDefinition $definition, string $holdsFrom): WhatIf
    {
        $now = $this->clock->now();
        $to = $now->plus(Duration::ofDays(self::QUARTER_DAYS));
        $today = $this->kept->rosters()->named($roster->name) ?? throw new Problem(409, 'This roster cannot be read any more');
        $from = $this->keeping->holdsFrom($roster, $definition, $holdsFrom);
        $isNow = !$from->since($now)->isLongerThan(Duration::ofMinutes(1));
        $changed = $this->keeping->core($definition);
        $then = $this->kept->changed($roster, $changed, $from);
        $zone = new \DateTimeZone($definition->zone);
        $names = $this->people->names();
        $shifts = $then->shifts($now, $to);
        $shown = static fn(Shift $one): ShownShift => RosterView::shift($one, $names);
        $soon = $then->shifts($now, $now->plus(Duration::ofDays(self::SHOWN_DAYS)));
        $people = self::peopleOf($changed);

        return new WhatIf(
            holdsFrom: $from,
            today: $this->shown($today->shifts($now, $to), $this->zone($roster->id()), $this->namedIn($roster->id(), $now), []),
            then: $this->shown($shifts, $zone, $people, []),
            shifts: array_map($shown, $soon),
            gaps: array_map($shown, RosterView::gaps($shifts)),
            changesNow: $isNow && $today->at($from)->person !== $then->at($from)->person,
        );
    }

    /**
     * @param list<Shift>               $shifts
     * @param list<int>                 $people
     * @param list<array{int, Instant}> $wakings
     */
    private function shown(array $shifts, \DateTimeZone $zone, array $people, array $wakings): ShownFairness
    {
        $fairness = Fairness::of($shifts, $people, $zone, $this->settings->holidays(), $wakings);
        $names = $this->people->names();
        $uneven = $fairness->unevenness();
        $gapMs = array_sum(array_map(static fn(Shift $one): int => $one->to->since($one->from)->ms, RosterView::gaps($shifts)));
        $now = $this->clock->now();

        return new ShownFairness(
            from: $shifts === [] ? $now : $shifts[0]->from,
            to: $shifts === [] ? $now : $shifts[count($shifts) - 1]->to,
            shares: array_map(
                static fn(FairShare $one): ShownShare => new ShownShare(
                    person: $names[$one->person] ?? 'somebody who is gone',
                    personId: $one->person,
                    hours: round($one->hours, 1),
                    nights: $one->nights,
                    weekends: $one->weekends,
                    holidays: $one->holidays,
                    wakings: $one->wakings,
                ),
                $fairness->shares,
            ),
            words: self::words($uneven, $names),
            times: $uneven === null ? null : round($uneven[2], 2),
            gapHours: (int) round($gapMs / 3_600_000),
        );
    }

    /**
     * @param array{Burden, FairShare, float}|null $uneven
     * @param array<int, string>                   $names
     */
    private static function words(?array $uneven, array $names): string
    {
        if ($uneven === null) {
            return 'There is nothing to share out yet.';
        }
        [$what, $share, $times] = $uneven;

        return $times < self::STILL_EVEN
            ? sprintf('Even: nobody carries more than %.1f times an even share of anything.', $times)
            : sprintf('%s has %d %s, %.1f times an even share.', $names[$share->person] ?? 'Somebody', round($share->of($what)), $what->value, $times);
    }

    /**
     * Messages that were sent while the person was on call by this roster.
     *
     * @param list<Shift> $shifts
     *
     * @return list<array{int, Instant}>
     */
    private function wakings(array $shifts, Instant $from, Instant $to): array
    {
        $wakings = [];
        $next = 0;
        foreach ($this->deliveries->rung($from, $to) as [$person, $at]) {
            while (isset($shifts[$next]) && !$shifts[$next]->to->isAfter($at)) {
                ++$next;
            }
            if (($shifts[$next] ?? null)?->person === $person && !$shifts[$next]->from->isAfter($at)) {
                $wakings[] = [$person, $at];
            }
        }

        return $wakings;
    }

    private function begins(int $roster): Instant
    {
        $held = array_map(static fn(RosterRevision $one): Instant => $one->holdsFrom, $this->revisions->of($roster));

        return array_reduce($held, static fn(?Instant $first, Instant $one): Instant => $first?->earlier($one) ?? $one) ?? $this->clock->now();
    }

    /** @throws Problem */
    private function zone(int $roster): \DateTimeZone
    {
        return $this->kept->rotations($this->revisions->newest($roster))->zone;
    }

    /**
     * @return list<int> whom the roster named at any time since, as it is set up
     *
     * @throws Problem
     */
    private function namedIn(int $roster, Instant $since): array
    {
        $people = [];
        foreach ($this->revisions->of($roster) as $revision) {
            array_push($people, ...self::peopleOf($this->kept->rotations($revision)));
            if (!$revision->holdsFrom->isAfter($since)) {
                break;
            }
        }

        return array_values(array_unique($people));
    }

    /** @return list<int> */
    private static function peopleOf(Roster $roster): array
    {
        return array_values(array_unique(array_merge(...array_map(static fn(Rotation $one): array => $one->people, $roster->rotations))));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\SetAside;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\Entity\KeptAbsence;
use Olivine\App\Roster\Entity\KeptCover;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\Entity\RosterRevision;
use Olivine\App\Roster\Repository\AbsenceRepository;
use Olivine\App\Roster\Repository\CoverRepository;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\App\Roster\Repository\RosterRevisionRepository;
use Olivine\Core\Roster\Absence;
use Olivine\Core\Roster\Cover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rosters;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** The rosters as they were, are and will be. What a revision says never changes, so it is read once. */
final class KeptRosters
{
    /** Covers and absences that were over before that say nothing of who is on call now, or next. */
    private const LOOKED_BACK_DAYS = 130;

    /** @var array<int, Roster> revision → its rotations */
    private array $read = [];

    public function __construct(
        private readonly RosterRepository $rosters,
        private readonly RosterRevisionRepository $revisions,
        private readonly CoverRepository $covers,
        private readonly AbsenceRepository $absences,
        private readonly PersonRepository $people,
        private readonly Definitions $definitions,
        private readonly SetAside $aside,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    /** Those that there are now, for what is now and to come. */
    public function rosters(): Rosters
    {
        return $this->since($this->clock->now());
    }

    /** Those that there are now, from an instant on. */
    public function since(Instant $from): Rosters
    {
        $histories = $this->histories($from);
        $byName = [];
        foreach ($this->rosters->inOrder() as $roster) {
            if (isset($histories[$roster->id()])) {
                $byName[$roster->name] = $histories[$roster->id()];
            }
        }

        return new Rosters($byName);
    }

    /**
     * Of all rosters, also of those that were removed since.
     *
     * @return array<int, RosterHistory> by their id
     */
    public function histories(Instant $from): array
    {
        $since = $from->minus(Duration::ofDays(self::LOOKED_BACK_DAYS));
        $covers = [];
        foreach ($this->covers->notOver($since) as $cover) {
            $covers[$cover->rosterId][] = $cover->core();
        }
        $absences = $this->absences->notOver($since);
        $gone = $this->gone();
        $histories = [];
        $byRoster = $this->revisions->byRoster();
        foreach ($this->rosters->findAll() as $roster) {
            $id = $roster->id();
            $history = $this->history(
                $roster,
                $byRoster[$id] ?? [],
                array_values(array_filter($covers[$id] ?? [])),
                [...self::absencesAmong($absences, $id), ...$gone],
            );
            if ($history !== null) {
                $histories[$id] = $history;
            }
        }

        return $histories;
    }

    /** @return list<string> of the rosters that there are */
    public function names(): array
    {
        return array_map(static fn(KeptRoster $one): string => $one->name, $this->rosters->inOrder());
    }

    /** @return array<string, RosterDefinition> by name, as each is set up to go on; without one that cannot be read any more */
    public function newest(): array
    {
        $newest = [];
        $byRoster = $this->revisions->byRoster();
        foreach ($this->rosters->inOrder() as $roster) {
            foreach (array_slice($byRoster[$roster->id()] ?? [], -1) as $revision) {
                try {
                    $newest[$roster->name] = $this->definition($revision);
                } catch (Problem) {
                    continue;
                }
            }
        }

        return $newest;
    }

    /** @return list<Shift> of the first roster, those that touch the span; none where there is no roster */
    public function shifts(Instant $from, Instant $to): array
    {
        return $this->since($from)->named('')?->touching($from, $to) ?? [];
    }

    /** Who is on call by the first roster when a shift ends. */
    public function after(Shift $shift): ?int
    {
        return $this->since($shift->from)->onCall('', $shift->to);
    }

    /**
     * A roster as it would be, with its covers and absences.
     *
     * @param Instant $from when the change takes effect
     */
    public function changed(KeptRoster $roster, Roster $changed, Instant $from): RosterHistory
    {
        $id = $roster->id();
        $since = $this->clock->now()->minus(Duration::ofDays(self::LOOKED_BACK_DAYS));
        $covers = array_map(static fn(KeptCover $one): ?Cover => $one->rosterId === $id ? $one->core() : null, $this->covers->notOver($since));
        $absences = [...self::absencesAmong($this->absences->notOver($since), $id), ...$this->gone()];
        $revisions = $this->revisions->byRoster()[$id] ?? [];
        $held = $this->held($roster, $revisions, array_values(array_filter($covers)), $absences);
        $held[] = [$from, $changed->with(array_values(array_filter($covers)), $absences)];

        return RosterHistory::of($held);
    }

    /** @return list<Absence> of a roster that are not over at an instant */
    public function absencesOf(int $roster, Instant $at): array
    {
        return self::absencesAmong($this->absences->notOver($at), $roster);
    }

    /**
     * The rotations of a revision, without covers and absences.
     *
     * @throws Problem where it cannot be read any more
     */
    public function rotations(RosterRevision $revision): Roster
    {
        return $this->read[$revision->id()] ??= $this->definition($revision)->core(static fn(string $address): int => $revision->people[$address] ?? 0);
    }

    /** @throws Problem where it cannot be read any more */
    public function definition(RosterRevision $revision): RosterDefinition
    {
        return $this->definitions->read(RosterDefinition::class, $revision->definition);
    }

    /**
     * @param list<RosterRevision> $revisions
     * @param list<Cover>          $covers
     * @param list<Absence>        $absences
     */
    private function history(KeptRoster $roster, array $revisions, array $covers, array $absences): ?RosterHistory
    {
        $held = $this->held($roster, $revisions, $covers, $absences);
        if ($held !== [] && $roster->removedAt !== null) {
            $held[] = [$roster->removedAt, new Roster($held[0][1]->zone, [])];
        }

        return $held === [] ? null : RosterHistory::of($held);
    }

    /**
     * A revision that cannot be read any more is set aside, and the former one goes on.
     *
     * @param list<RosterRevision> $revisions
     * @param list<Cover>          $covers
     * @param list<Absence>        $absences
     *
     * @return list<array{Instant, Roster}> in the order in which they were made
     */
    private function held(KeptRoster $roster, array $revisions, array $covers, array $absences): array
    {
        $held = [];
        foreach ($revisions as $revision) {
            try {
                $held[] = [$revision->holdsFrom, $this->rotations($revision)->with($covers, $absences)];
            } catch (Problem $problem) {
                $this->aside->put('dispatcher', "revision {$revision->number} of roster {$roster->name}", $problem->getMessage(), $this->clock->now());
            }
        }

        return $held;
    }

    /**
     * @param list<KeptAbsence> $absences
     *
     * @return list<Absence>
     */
    private static function absencesAmong(array $absences, int $roster): array
    {
        $of = array_filter($absences, static fn(KeptAbsence $one): bool => $one->rosterId === null || $one->rosterId === $roster);

        return array_values(array_filter(array_map(static fn(KeptAbsence $one): ?Absence => $one->core(), $of)));
    }

    /** @return list<Absence> whoever may not act any more is away for ever */
    private function gone(): array
    {
        $ever = Instant::ofMs(PHP_INT_MAX);

        return array_map(static fn(array $one): Absence => new Absence($one['id'], $one['at'], $ever), $this->people->gone());
    }
}

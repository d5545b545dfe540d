<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Files\AppliedParts;
use Olivine\App\Files\Keep;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\CoverState;
use Olivine\App\Roster\Definition\AbsenceDefinition;
use Olivine\App\Roster\Definition\CoverDefinition;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\Entity\KeptAbsence;
use Olivine\App\Roster\Entity\KeptCover;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\KeptRosters;
use Olivine\App\Roster\Repository\AbsenceRepository;
use Olivine\App\Roster\Repository\CoverRepository;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\App\Roster\RosterKeeping;
use Olivine\App\Roster\RosterWords;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/**
 * Holds the rosters of files against those that are kept, and puts them into service. A change of rotations holds from the next handover
 * on; covers and absences of files that are over say nothing any more, and those that left the files end.
 */
final readonly class RosterApplier
{
    public function __construct(
        private EntityManagerInterface $entities,
        private RosterRepository $rosters,
        private CoverRepository $covers,
        private AbsenceRepository $absences,
        private KeptRosters $kept,
        private RosterKeeping $keeping,
        private AppliedParts $applied,
        private ComingSpans $spans,
        private PersonRepository $people,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem naming what could not be so */
    public function plan(RosterFiles $files): PlannedRosters
    {
        $newest = $this->kept->newest();
        $applied = $this->applied->all();
        $names = $this->people->names();
        $byAddress = $this->people->byAddress();
        $called = static fn(string $address): string => $names[$byAddress[$address] ?? 0] ?? $address;
        $changes = $new = $rotations = $hand = [];
        foreach ($files->rosters as $roster) {
            $this->keeping->core($roster);
            $now = $newest[$roster->name] ?? null;
            if ($now === null) {
                $new[] = $roster->name;
                $changes[$roster->name] = [];

                continue;
            }
            $ofRotations = RosterWords::changes($now, $roster, $called);
            if ($ofRotations !== []) {
                $rotations[] = $roster->name;
            }
            $differs = [...$ofRotations, ...$this->spans($roster)];
            if ($differs !== []) {
                $changes[$roster->name] = $differs;
            }
            $said = $applied["roster {$roster->name}"]['said'] ?? null;
            if ($said !== null && RosterKeeping::kept($now) !== $said && $ofRotations !== []) {
                $hand[] = $roster->name;
            }
        }

        return new PlannedRosters($files, $changes, $new, $rotations, $hand);
    }

    /** @throws Problem where something was changed by hand and nobody says which is meant */
    public static function refuse(PlannedRosters $planned, ?Keep $keep): void
    {
        if ($planned->hand !== [] && $keep === null) {
            $names = implode(', ', array_map(static fn(string $name): string => "roster {$name}", $planned->hand));
            throw new Problem(409, "Changed by hand since the last apply: {$names}. Say which is meant: --keep hand or --keep file");
        }
    }

    /** @throws Problem where something was changed by hand and nobody says which is meant */
    public function apply(PlannedRosters $planned, ?Keep $keep, ?Person $author, string $reason): void
    {
        self::refuse($planned, $keep);
        $applied = $this->applied->all();
        foreach ($planned->files->rosters as $definition) {
            $staysByHand = $keep === Keep::Hand && in_array($definition->name, $planned->hand, true);
            $this->applyOne($definition, $planned, $staysByHand, $author, $reason);
            $applied["roster {$definition->name}"] = [
                'file' => mb_substr($planned->files->fileOf[$definition->name] ?? '', -255),
                'said' => RosterKeeping::kept($definition),
            ];
        }
        $this->applied->keep($applied);
    }

    /** @throws Problem */
    private function applyOne(RosterDefinition $definition, PlannedRosters $planned, bool $staysByHand, ?Person $author, string $reason): void
    {
        $roster = $this->rosters->named($definition->name);
        if ($roster === null) {
            $roster = $this->keeping->begin($definition, $reason, $author);
        } elseif (in_array($definition->name, $planned->rotations, true) && !$staysByHand) {
            $this->keeping->change($roster, $definition, '', $reason, $author);
        }
        $this->applySpans($roster, $definition, $author);
        $this->entities->flush();
    }

    /** @throws Problem */
    private function applySpans(KeptRoster $roster, RosterDefinition $definition, ?Person $author): void
    {
        $now = $this->clock->now();
        $people = $this->people->byAddress();
        [$covers, $absences] = $this->ofFile($roster);
        [$coversByHand, $absencesByHand] = $this->byHand($roster, $definition);
        foreach ($this->coming($definition, $definition->covers) as $key => [$cover, $from, $to]) {
            if (isset($covers[$key]) || isset($coversByHand[$key])) {
                unset($covers[$key]);

                continue;
            }
            $made = new KeptCover($roster->id(), $people[$cover->person], $people[$cover->for], $from, $to, CoverState::Set, '', $author?->id, $now);
            $made->ofFile = $key;
            $this->entities->persist($made);
        }
        foreach ($this->coming($definition, $definition->away) as $key => [$away, $from, $to]) {
            if (isset($absences[$key]) || isset($absencesByHand[$key])) {
                unset($absences[$key]);

                continue;
            }
            $made = new KeptAbsence($people[$away->person], $from, $to, '', $author?->id, $now);
            $made->rosterId = $roster->id();
            $made->ofFile = $key;
            $this->entities->persist($made);
        }
        foreach ($covers as $gone) {
            $gone->fromAt->isBefore($now) ? $gone->toAt = $now : $gone->state = CoverState::Withdrawn;
        }
        foreach ($absences as $gone) {
            $gone->fromAt->isBefore($now) ? $gone->toAt = $now : $this->entities->remove($gone);
        }
    }

    /**
     * @return list<string> covers and absences that came into the files, or left them
     *
     * @throws Problem
     */
    private function spans(RosterDefinition $definition): array
    {
        $roster = $this->rosters->named($definition->name);
        if ($roster === null) {
            return [];
        }
        [$covers, $absences] = $this->ofFile($roster);
        [$coversByHand, $absencesByHand] = $this->byHand($roster, $definition);
        $words = [];
        $pairs = [
            [$this->coming($definition, $definition->covers), $covers, $coversByHand],
            [$this->coming($definition, $definition->away), $absences, $absencesByHand],
        ];
        foreach ($pairs as [$is, $was, $byHand]) {
            foreach (array_keys(array_diff_key($is, $was, $byHand)) as $key) {
                $words[] = "new: {$key}";
            }
            foreach (array_keys(array_diff_key($was, $is)) as $key) {
                $words[] = "gone: {$key}";
            }
        }

        return $words;
    }

    /** @return array{array<string, KeptCover>, array<string, KeptAbsence>} that came from files and are not over */
    private function ofFile(KeptRoster $roster): array
    {
        $now = $this->clock->now();
        $covers = $absences = [];
        foreach ($this->covers->notOver($now) as $one) {
            if ($one->rosterId === $roster->id && $one->ofFile !== '' && $one->state->takesPlace()) {
                $covers[$one->ofFile] = $one;
            }
        }
        foreach ($this->absences->notOver($now) as $one) {
            if ($one->rosterId === $roster->id && $one->ofFile !== '') {
                $absences[$one->ofFile] = $one;
            }
        }

        return [$covers, $absences];
    }

    /**
     * What people entered stays theirs when a file says the same.
     *
     * @return array{array<string, true>, array<string, true>} covers and absences, by the words of a file
     */
    private function byHand(KeptRoster $roster, RosterDefinition $definition): array
    {
        [$covers, $away] = $this->spans->of($roster, $definition->zone);
        $words = static fn(CoverDefinition|AbsenceDefinition $one): string => $one->words();

        return [array_fill_keys(array_map($words, $covers), true), array_fill_keys(array_map($words, $away), true)];
    }

    /**
     * Those that are not over, by the words of the file.
     *
     * @template T of CoverDefinition|AbsenceDefinition
     *
     * @param list<T> $spans
     *
     * @return array<string, array{T, Instant, Instant}>
     *
     * @throws Problem
     */
    private function coming(RosterDefinition $definition, array $spans): array
    {
        $wall = new WallTimes(new \DateTimeZone($definition->zone));
        $now = $this->clock->now();
        $coming = [];
        foreach ($spans as $one) {
            $span = $one->core(static fn(string $address): int => 0, $wall);
            if ($span->to->isAfter($now)) {
                $coming[$one->words()] = [$one, $span->from, $span->to];
            }
        }

        return $coming;
    }
}

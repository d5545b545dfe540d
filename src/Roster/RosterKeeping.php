<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Definition\LocalTime;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\Entity\RosterRevision;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\App\Roster\Repository\RosterRevisionRepository;
use Olivine\Core\Formula\Nearest;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/** Makes and changes rosters: each change is a revision more, which holds from an instant on that is not past. */
final readonly class RosterKeeping
{
    public function __construct(
        private EntityManagerInterface $entities,
        private RosterRepository $rosters,
        private RosterRevisionRepository $revisions,
        private KeptRosters $kept,
        private PersonRepository $people,
        private Notes $notes,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * It holds from its very beginning: nobody was on call by it before.
     *
     * @throws Problem naming the field
     */
    public function begin(RosterDefinition $definition, string $reason, ?Person $author, ?Instant $from = null): KeptRoster
    {
        $this->checkName($definition->name, null);
        $places = array_map(static fn(KeptRoster $one): int => $one->place, $this->rosters->inOrder());
        $roster = new KeptRoster($definition->name, max([0, ...$places]) + 1);
        $this->entities->persist($roster);
        $this->entities->flush();
        $now = $this->clock->now();
        $this->add($roster, 1, $definition, $reason, $author, $from ?? $now, $from ?? $now);
        $this->audit->record('made', "roster {$roster->name}", null, self::kept($definition));
        $this->tellNewcomers($roster, [], $author);

        return $roster;
    }

    /**
     * @param string   $holdsFrom "": when the shift that is under way ends; `now`; a time on the clocks of the roster
     * @param int|null $number    of the revision that was read; null: whatever there is
     *
     * @throws Problem 409 where somebody changed it since; 422 naming the field
     */
    public function change(KeptRoster $roster, RosterDefinition $definition, string $holdsFrom, string $reason, ?Person $author, ?int $number = null): void
    {
        // Of two who change it in the same moment the second one sees that.
        $newest = $this->revisions->newestHeld($roster->id());
        if ($number !== null && $number !== $newest->number) {
            throw new Problem(409, "Somebody changed the roster {$roster->name} since you read it; look at it once more");
        }
        $this->checkName($definition->name, $roster);
        $from = $this->holdsFrom($roster, $definition, $holdsFrom);
        $before = $newest->definition;
        $former = array_values($newest->people);
        $roster->name = $definition->name;
        $this->add($roster, $newest->number + 1, $definition, $reason, $author, $this->clock->now(), $from);
        $after = ['reason' => $reason, 'holdsFrom' => gmdate('Y-m-d\TH:i\Z', intdiv($from->ms, 1000))];
        $this->audit->record('changed', "roster {$roster->name}", $before, self::kept($definition) + $after);
        $this->tellNewcomers($roster, $former, $author);
    }

    /** What was by it stays known; its name is free. */
    public function remove(KeptRoster $roster): void
    {
        $name = $roster->name;
        $roster->removedAt = $this->clock->now();
        $roster->name = "removed {$roster->id()} {$roster->removedAt->ms}";
        $this->entities->flush();
        $this->audit->record('removed', "roster {$name}", $this->revisions->newest($roster->id())->definition, null);
    }

    /**
     * As it would be, whoever is named being there.
     *
     * @throws Problem naming the field
     */
    public function core(RosterDefinition $definition): Roster
    {
        $people = $this->people->byAddress();

        return $definition->core(static function (string $address) use ($people): int {
            $near = Nearest::to($address, array_keys($people));

            return $people[$address] ?? throw Problem::field(
                'people',
                "people: there is no person with the address {$address}" . ($near === null ? '' : "; did you mean {$near}?"),
            );
        });
    }

    /**
     * When a change takes effect, as it is written.
     *
     * @throws Problem naming the field
     */
    public function holdsFrom(KeptRoster $roster, RosterDefinition $definition, string $written): Instant
    {
        $now = $this->clock->now();
        if ($written === 'now') {
            return $now;
        }
        if ($written === '') {
            $shift = $this->kept->rosters()->named($roster->name)?->touching($now, $now->plus(Duration::ofMs(1)))[0] ?? null;

            return $shift === null || $shift->isGap() ? $now : $shift->to;
        }
        $at = LocalTime::instant('holdsFrom', $written, new WallTimes(new \DateTimeZone($definition->zone)));

        return $at->isBefore($now->minus(Duration::ofMinutes(1)))
            ? throw Problem::field('holdsFrom', "holdsFrom must not be past: who was on call is not changed afterwards; {$written} is over")
            : $at->later($now);
    }

    /** @return array<string, mixed> as it is kept */
    public static function kept(RosterDefinition $definition): array
    {
        /** @var array<string, mixed> */
        return json_decode(json_encode(['covers' => [], 'away' => []] + get_object_vars($definition), JSON_THROW_ON_ERROR), true, 16, JSON_THROW_ON_ERROR);
    }

    /** @throws Problem */
    private function add(
        KeptRoster $roster,
        int $number,
        RosterDefinition $definition,
        string $reason,
        ?Person $author,
        Instant $at,
        Instant $from,
    ): void {
        $this->core($definition);
        $people = array_intersect_key($this->people->byAddress(), array_flip($definition->people()));
        $this->entities->persist(new RosterRevision($roster->id(), $number, self::kept($definition), $people, $author?->id, $reason, $at, $from));
        $this->entities->flush();
    }

    /** @param list<int> $former who was on it before */
    private function tellNewcomers(KeptRoster $roster, array $former, ?Person $author): void
    {
        $newest = $this->revisions->newest($roster->id());
        $came = array_values(array_diff($newest->people, $former));
        $this->notes->ofBeingPut($came, "the roster {$roster->name}", "roster-{$roster->id()}.{$newest->number}", $author);
    }

    /** @throws Problem naming the field */
    private function checkName(string $name, ?KeptRoster $own): void
    {
        $taken = $this->rosters->named($name);
        if ($taken !== null && $taken !== $own) {
            throw Problem::field('name', "There is a roster named {$name} already");
        }
    }
}

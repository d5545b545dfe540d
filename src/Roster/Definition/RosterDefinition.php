<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Problem;
use Olivine\Core\Roster\Absence;
use Olivine\Core\Roster\Cover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Time\WallTimes;

/** Who is on call when: rotations one above another on the clocks of a zone, with covers and absences. */
final readonly class RosterDefinition
{
    /**
     * @param list<RotationDefinition> $rotations the later one goes before the earlier where both have somebody
     * @param list<CoverDefinition>    $covers    in the order in which they were made
     * @param list<AbsenceDefinition>  $away
     */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[Line(60, 1)]
        public string $zone,
        #[ListOf(RotationDefinition::class, 1, 20)]
        public array $rotations,
        #[ListOf(CoverDefinition::class, 0, 500)]
        public array $covers = [],
        #[ListOf(AbsenceDefinition::class, 0, 500)]
        public array $away = [],
    ) {
    }

    /**
     * @param \Closure(string): int $numberOf of an address
     *
     * @throws Problem naming the field
     */
    public function core(\Closure $numberOf): Roster
    {
        if (!in_array($this->zone, \DateTimeZone::listIdentifiers(), true)) {
            throw Problem::field('zone', "zone must be a time zone such as Europe/Lisbon; there is no {$this->zone}");
        }
        $names = array_map(static fn(RotationDefinition $one): string => $one->name, $this->rotations);
        $twice = array_keys(array_filter(array_count_values($names), static fn(int $times): bool => $times > 1));
        if ($twice !== []) {
            throw Problem::field('rotations', "rotations: there are two named {$twice[0]}");
        }
        $zone = new \DateTimeZone($this->zone);
        $wall = new WallTimes($zone);

        return new Roster(
            $zone,
            array_map(static fn(RotationDefinition $one): Rotation => $one->core($numberOf), $this->rotations),
            array_map(static fn(CoverDefinition $one): Cover => $one->core($numberOf, $wall), $this->covers),
            array_map(static fn(AbsenceDefinition $one): Absence => $one->core($numberOf, $wall), $this->away),
        );
    }

    /** @return list<string> addresses of all that are named, each once */
    public function people(): array
    {
        $people = array_merge(...array_map(static fn(RotationDefinition $one): array => $one->people, $this->rotations));
        foreach ($this->covers as $cover) {
            array_push($people, $cover->person, $cover->for);
        }
        foreach ($this->away as $absence) {
            $people[] = $absence->person;
        }

        return array_values(array_unique($people));
    }
}

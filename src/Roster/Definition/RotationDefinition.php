<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Problem;
use Olivine\Core\Roster\Rotation;

/** People who take turns. */
final readonly class RotationDefinition
{
    /**
     * @param list<string> $people their addresses, in order
     * @param string       $from   `2026-11-23`: turns are counted from the first handover on or after this day
     */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[Names(180, 60)]
        public array $people,
        #[Line(10, 10)]
        public string $from,
        public HandoverDefinition $change,
        public ?DutyHoursDefinition $hours = null,
    ) {
    }

    /**
     * @param \Closure(string): int $numberOf of an address
     *
     * @throws Problem naming the field
     */
    public function core(\Closure $numberOf): Rotation
    {
        if ($this->people === []) {
            throw Problem::field('people', 'people: say who takes turns');
        }

        return new Rotation(
            $this->name,
            array_map($numberOf, $this->people),
            LocalTime::day('from', $this->from),
            $this->change->core(),
            $this->hours?->core(),
        );
    }
}

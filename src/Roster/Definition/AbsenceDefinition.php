<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Problem;
use Olivine\Core\Roster\Absence;
use Olivine\Core\Time\WallTimes;

/** Somebody is away. */
final readonly class AbsenceDefinition
{
    /**
     * @param string $person address
     * @param string $from   `2026-12-02 08:00` on the clocks of the roster
     */
    public function __construct(
        #[Line(180, 1)]
        public string $person,
        #[Line(16, 16)]
        public string $from,
        #[Line(16, 16)]
        public string $to,
    ) {
    }

    /**
     * @param \Closure(string): int $numberOf of an address
     *
     * @throws Problem naming the field
     */
    public function core(\Closure $numberOf, WallTimes $wall): Absence
    {
        [$from, $to] = [LocalTime::instant('from', $this->from, $wall), LocalTime::instant('to', $this->to, $wall)];

        return $from->isBefore($to)
            ? new Absence($numberOf($this->person), $from, $to)
            : throw Problem::field('to', "to must be after from; {$this->to} is not");
    }

    /** `oyelaran@… away from 2026-12-02 08:00 to 2026-12-05 08:00`: what a cover's words are never the same as. */
    public function words(): string
    {
        return "{$this->person} away from {$this->from} to {$this->to}";
    }
}

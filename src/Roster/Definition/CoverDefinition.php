<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Problem;
use Olivine\Core\Roster\Cover;
use Olivine\Core\Time\WallTimes;

/** Somebody stands in for somebody else. */
final readonly class CoverDefinition
{
    /**
     * @param string $person address of whoever stands in
     * @param string $for    address
     * @param string $from   `2026-11-28 10:00` on the clocks of the roster
     */
    public function __construct(
        #[Line(180, 1)]
        public string $person,
        #[Line(180, 1)]
        public string $for,
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
    public function core(\Closure $numberOf, WallTimes $wall): Cover
    {
        [$from, $to] = [LocalTime::instant('from', $this->from, $wall), LocalTime::instant('to', $this->to, $wall)];
        if ($this->person === $this->for) {
            throw Problem::field('person', 'person: nobody covers for themselves');
        }

        return $from->isBefore($to)
            ? new Cover($numberOf($this->person), $numberOf($this->for), $from, $to)
            : throw Problem::field('to', "to must be after from; {$this->to} is not");
    }

    /** `tomasz@… for ines@… from 2026-11-28 10:00 to 2026-11-28 18:00`, as files say it. */
    public function words(): string
    {
        return "{$this->person} for {$this->for} from {$this->from} to {$this->to}";
    }
}

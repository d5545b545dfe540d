<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Instant;

/** Somebody is on call by two rosters at once. */
final readonly class DoubleBooking
{
    /** @param list<string> $rosters */
    private function __construct(public int $person, public array $rosters, public Instant $from, public Instant $to)
    {
    }

    /**
     * @param list<Shift>                   $shifts of a roster
     * @param array<array-key, list<Shift>> $others by the name of their roster
     *
     * @return list<self> in the order of time
     */
    public static function between(string $roster, array $shifts, array $others): array
    {
        $found = [];
        foreach ($others as $name => $ofOther) {
            $next = 0;
            foreach ($shifts as $shift) {
                while (isset($ofOther[$next]) && !$ofOther[$next]->to->isAfter($shift->from)) {
                    ++$next;
                }
                for ($i = $next; isset($ofOther[$i]) && $ofOther[$i]->from->isBefore($shift->to); ++$i) {
                    if ($shift->person !== null && $ofOther[$i]->person === $shift->person) {
                        $from = $shift->from->later($ofOther[$i]->from);
                        $found[] = new self($shift->person, [$roster, (string) $name], $from, $shift->to->earlier($ofOther[$i]->to));
                    }
                }
            }
        }
        usort($found, static fn(self $a, self $b): int => $a->from->ms <=> $b->from->ms);

        return $found;
    }
}

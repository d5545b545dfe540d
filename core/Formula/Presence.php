<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** Who is there when. */
final class Presence
{
    /**
     * Puts the instants together at which the same lines have a value.
     *
     * @param list<Line> $lines
     *
     * @return list<non-empty-list<int>> places of instants, rising; one list where nobody comes or goes
     */
    public static function spells(array $lines, int $instants): array
    {
        $coming = array_filter($lines, static fn(Line $line): bool => in_array(null, $line->values, true));
        if ($coming === []) {
            return [range(0, max(0, $instants - 1))];
        }
        $marks = array_fill(0, $instants, 'there: ');
        foreach ($coming as $line) {
            foreach ($line->values as $i => $value) {
                $marks[$i] .= $value === null ? '0' : '1';
            }
        }
        $spells = [];
        foreach ($marks as $i => $mark) {
            $spells[$mark][] = $i;
        }

        return array_values($spells);
    }
}

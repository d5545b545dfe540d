<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\Outlier;
use Olivine\Core\Formula\Node\Ranked;
use Olivine\Core\Formula\Node\Twins;
use Olivine\Core\Series\LabelSet;

/** What is made of many series at the same instant, group by group. NaN never counts. */
final class AcrossGroups
{
    private const LEAST_TWINS = 2;

    public static function reduce(AcrossSeries $node, Lines $of): Lines
    {
        $lines = [];
        foreach (self::groups($of, $node->grouping) as [$labels, $members]) {
            $values = [];
            foreach ($members[0]->values as $i => $_) {
                $present = self::present($members, $i);
                $values[] = $present === [] ? null : $node->reducer->reduce(array_values($present), $node->parameter);
            }
            $lines[] = new Line($labels, $values);
        }

        return new Lines($lines);
    }

    /** At each instant the highest or lowest few keep their value; equal ones are taken in the order of their labels. */
    public static function rank(Ranked $node, Lines $of): Lines
    {
        $lines = [];
        foreach (self::groups($of, $node->grouping) as [, $members]) {
            usort($members, static fn(Line $a, Line $b): int => strcmp($a->labels->key(), $b->labels->key()));
            $kept = [];
            foreach ($members[0]->values as $i => $_) {
                $present = self::present($members, $i);
                $node->highest ? arsort($present) : asort($present);
                $chosen = array_slice($present, 0, $node->count, true);
                foreach ($members as $m => $_) {
                    $kept[$m][] = $chosen[$m] ?? null;
                }
            }
            foreach ($members as $m => $member) {
                $lines[] = new Line($member->labels, $kept[$m]);
            }
        }

        return new Lines($lines);
    }

    public static function outliers(Outlier $node, Lines $of): Lines
    {
        $lines = [];
        foreach (self::groups($of, $node->grouping) as [, $members]) {
            $distances = [];
            foreach ($members[0]->values as $i => $_) {
                $present = self::present($members, $i);
                $values = array_values($present);
                [$median, $yardstick] =
                    $values === [] ? [0.0, 0.0] : [Spread::median($values), Spread::MAD_SCALE * Spread::mad($values)];
                foreach ($members as $m => $_) {
                    $distances[$m][] = isset($present[$m]) ? abs(Spread::distance($median, $present[$m], $yardstick)) : null;
                }
            }
            foreach ($members as $m => $member) {
                $lines[] = new Line($member->labels, $distances[$m]);
            }
        }

        return new Lines($lines);
    }

    /**
     * Each series beside the others of its group; where there are fewer than two of these, nobody can tell.
     *
     * @return list<array{LabelSet, list<array{float, float}|null>}> of each series the middle of the others and their spread, instant by instant
     */
    public static function twins(Twins $node, Lines $of): array
    {
        $lines = [];
        foreach (self::groups($of, $node->grouping) as [, $members]) {
            $told = [];
            foreach ($members[0]->values as $i => $_) {
                $present = self::present($members, $i);
                asort($present);
                foreach ($members as $m => $_) {
                    $others = $present;
                    unset($others[$m]);
                    if (count($others) < self::LEAST_TWINS) {
                        $told[$m][] = null;

                        continue;
                    }
                    [$median, $mad] = Spread::ofSorted(array_values($others));
                    $told[$m][] = [$median, Spread::MAD_SCALE * $mad];
                }
            }
            foreach ($members as $m => $member) {
                $lines[] = [$member->labels, $told[$m]];
            }
        }

        return $lines;
    }

    /** @param bool $keepsAll what holds where there is no grouping: all labels, or none */
    public static function labels(LabelSet $labels, ?Grouping $grouping, bool $keepsAll): LabelSet
    {
        return match (true) {
            $grouping === null => $keepsAll ? $labels : LabelSet::none(),
            $grouping->keeps => $labels->only($grouping->labels),
            default => $labels->without($grouping->labels),
        };
    }

    /** @return list<array{LabelSet, non-empty-list<Line>}> */
    private static function groups(Lines $of, ?Grouping $grouping): array
    {
        $labels = [];
        $members = [];
        foreach ($of->lines as $line) {
            $kept = self::labels($line->labels, $grouping, false);
            $key = $kept->key();
            $labels[$key] ??= $kept;
            $members[$key][] = $line;
        }

        return array_map(
            static fn(LabelSet $of, array $lines): array => [$of, $lines],
            array_values($labels),
            array_values($members),
        );
    }

    /**
     * @param non-empty-list<Line> $members
     *
     * @return array<int, float> member → its value
     */
    private static function present(array $members, int $instant): array
    {
        $present = [];
        foreach ($members as $m => $member) {
            $value = $member->values[$instant];
            if ($value !== null && !is_nan($value)) {
                $present[$m] = $value;
            }
        }

        return $present;
    }
}

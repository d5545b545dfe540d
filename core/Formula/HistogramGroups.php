<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\ShareBelow;

/** Puts the growth of buckets together, group by group and bound by bound, and asks each histogram at each instant. */
final class HistogramGroups
{
    /** @param Lines $grown a line a bucket, its bound in the label le */
    public static function of(Percentile|ShareBelow $node, Lines $grown): Lines
    {
        $groups = [];
        foreach ($grown->lines as $line) {
            $bound = HistogramBuckets::bound($line->labels->get('le'));
            if (is_nan($bound)) {
                continue;
            }
            $labels = AcrossGroups::labels($line->labels->without(['le']), $node->grouping, true);
            $groups[$labels->key()] ??= [$labels, []];
            $groups[$labels->key()][1][sprintf('%.17g', $bound)][] = $line->values;
        }
        $lines = [];
        foreach ($groups as [$labels, $columns]) {
            uksort($columns, static fn(string|int $a, string|int $b): int => self::bound($a) <=> self::bound($b));
            $bounds = array_map(self::bound(...), array_keys($columns));
            $counts = array_map(self::together(...), array_values($columns));
            $lines[] = new Line($labels, self::told($node, $bounds, $counts));
        }

        return new Lines($lines);
    }

    /**
     * @param list<float>            $bounds rising
     * @param list<list<float|null>> $counts what was counted at or under each, instant by instant
     *
     * @return list<float|null> one an instant
     */
    private static function told(Percentile|ShareBelow $node, array $bounds, array $counts): array
    {
        $told = [];
        foreach (array_keys($counts[0]) as $instant) {
            $there = array_column($counts, $instant);
            $of = $bounds;
            if (in_array(null, $there, true)) {
                $there = array_filter($there, static fn(?float $count): bool => $count !== null);
                $of = array_values(array_intersect_key($bounds, $there));
            }
            if ($of === [] || $there === []) {
                $told[] = null;

                continue;
            }
            $buckets = HistogramBuckets::inOrder($of, array_values($there));
            $told[] = $node instanceof Percentile ? $buckets->percentile($node->percent) : $buckets->shareBelow($node->bound);
        }

        return $told;
    }

    /**
     * @param non-empty-list<list<float|null>> $parts of the series that share a bound
     *
     * @return list<float|null> what all of them counted, instant by instant; null where none did
     */
    private static function together(array $parts): array
    {
        $sums = array_shift($parts);
        foreach ($parts as $part) {
            foreach ($part as $instant => $count) {
                if ($count !== null) {
                    $sums[$instant] = ($sums[$instant] ?? 0.0) + $count;
                }
            }
        }

        return array_values($sums);
    }

    private static function bound(string|int $bound): float
    {
        return HistogramBuckets::bound((string) $bound);
    }
}

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
            $values = [];
            foreach (array_keys(reset($columns)[0]) as $instant) {
                $counts = self::counts($columns, $instant);
                $values[] = match (true) {
                    $counts === [] => null,
                    $node instanceof Percentile => (new HistogramBuckets($counts))->percentile($node->percent),
                    default => (new HistogramBuckets($counts))->shareBelow($node->bound),
                };
            }
            $lines[] = new Line($labels, $values);
        }

        return new Lines($lines);
    }

    /**
     * @param non-empty-array<array-key, non-empty-list<list<float|null>>> $columns bound → values of its series
     *
     * @return array<array-key, float> bound → what all of its series counted
     */
    private static function counts(array $columns, int $instant): array
    {
        $counts = [];
        foreach ($columns as $bound => $parts) {
            foreach ($parts as $part) {
                if ($part[$instant] !== null) {
                    $counts[$bound] = ($counts[$bound] ?? 0.0) + $part[$instant];
                }
            }
        }

        return $counts;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Outlier;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\Ranked;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Node\Twins;

/**
 * A formula that reads no more than it takes to tell one of its lines: what an alert shows of itself must not read the
 * other thousand series of its rule.
 *
 *     mean(used, 5m) / limit          for {host="a", disk="sda"}   → mean(used where host in ("a", "") and disk in ("sda", ""), 5m) / …
 *     sum(rate(jobs, 1m)) per host    for {host="a"}               → sum(rate(jobs where host in ("a", ""), 1m)) per host
 *     outlier(busy) per service       for {service="s", host="a"}  → outlier(busy where service in ("s", "")) per service
 *
 * A side that lacks a label spreads over all its values, so "" is let through.
 */
final class Narrowing
{
    /** @param array<string, string> $labels of the line that is wanted */
    public static function to(Node $node, array $labels): Node
    {
        if ($node instanceof Select) {
            return self::selected($node, $labels);
        }
        $passedOn = self::passedOn($node, $labels);

        return $passedOn === []
            ? $node
            : Tree::with($node, array_map(static fn(Node $child): Node => self::to($child, $passedOn), Tree::children($node)));
    }

    /**
     * Only labels that a part keeps say anything of what it is made of.
     *
     * @param array<string, string> $labels
     *
     * @return array<string, string>
     */
    private static function passedOn(Node $node, array $labels): array
    {
        return match (true) {
            $node instanceof Binary => $node->on === null ? $labels : array_intersect_key($labels, array_flip($node->on)),
            $node instanceof AcrossSeries,
            $node instanceof Ranked,
            $node instanceof Outlier,
            $node instanceof Twins
                => self::kept(
                    $labels,
                    $node->grouping,
                    [],
                ),
            $node instanceof Percentile, $node instanceof ShareBelow => self::kept($labels, $node->grouping, $labels),
            default => $labels,
        };
    }

    /**
     * @param array<string, string> $labels
     * @param array<string, string> $otherwise without a grouping
     *
     * @return array<string, string>
     */
    private static function kept(array $labels, ?Grouping $grouping, array $otherwise): array
    {
        return match (true) {
            $grouping === null => $otherwise,
            $grouping->keeps => array_intersect_key($labels, array_flip($grouping->labels)),
            default => array_diff_key($labels, array_flip($grouping->labels)),
        };
    }

    /** @param array<string, string> $labels */
    private static function selected(Select $node, array $labels): Select
    {
        $where = $node->where;
        foreach ($labels as $name => $value) {
            $test = new LabelTest($node->place, (string) $name, LabelOperator::In, [$value, '']);
            $where = $where === null ? $test : new AllOf($where, $test);
        }

        return new Select($node->place, $node->metric, $where);
    }
}

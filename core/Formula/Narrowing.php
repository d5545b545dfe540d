<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\Age;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\Baseline;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Deviation;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Missing;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Outlier;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\PerValue;
use Olivine\Core\Formula\Node\Ranked;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Node\Shift;
use Olivine\Core\Formula\Node\Unary;
use Olivine\Core\Formula\Node\VoiceQuality;

/**
 * A formula that reads no more than it takes to tell one of its lines: what an alert shows of itself must not read the
 * other thousand series of its rule.
 *
 *     mean(used, 5m) / limit          for {host="a", disk="sda"}   → mean(used where host in ("a", "") and disk in ("sda", ""), 5m) / …
 *     sum(rate(jobs, 1m)) per host    for {host="a"}               → sum(rate(jobs where host in ("a", ""), 1m)) per host
 *     outlier(busy) per service       for {service="s", host="a"}  → outlier(busy where service in ("s", "")) per service
 *
 * A side that lacks a label spreads over all its values, so "" is let through. Only labels that a part keeps are told to
 * what it is made of.
 */
final class Narrowing
{
    /** @param array<string, string> $labels of the line that is wanted */
    public static function to(Node $node, array $labels): Node
    {
        if ($labels === []) {
            return $node;
        }

        return match (true) {
            $node instanceof Select => self::selected($node, $labels),
            $node instanceof Shift => new Shift($node->place, self::to($node->of, $labels), $node->byMs),
            $node instanceof Unary => new Unary($node->place, $node->operator, self::to($node->of, $labels)),
            $node instanceof PerValue => new PerValue($node->place, $node->function, self::to($node->of, $labels), $node->arguments),
            $node instanceof OverTime => new OverTime($node->place, $node->reducer, self::to($node->of, $labels), $node->windowMs, $node->parameter),
            $node instanceof Baseline => new Baseline($node->place, self::to($node->of, $labels), $node->method, $node->spanMs),
            $node instanceof Deviation => new Deviation($node->place, self::to($node->of, $labels), $node->yardstick, $node->spanMs),
            $node instanceof Age => new Age($node->place, self::selected($node->of, $labels)),
            $node instanceof Missing => new Missing($node->place, self::selected($node->of, $labels), $node->windowMs),
            $node instanceof Percentile => new Percentile($node->place, $node->percent, self::selected($node->of, self::kept($labels, $node->grouping, true)), $node->windowMs, $node->grouping),
            $node instanceof ShareBelow => new ShareBelow($node->place, $node->bound, self::selected($node->of, self::kept($labels, $node->grouping, true)), $node->windowMs, $node->grouping),
            $node instanceof AcrossSeries => new AcrossSeries($node->place, $node->reducer, self::to($node->of, self::kept($labels, $node->grouping, false)), $node->grouping, $node->parameter),
            $node instanceof Ranked => new Ranked($node->place, $node->highest, $node->count, self::to($node->of, self::kept($labels, $node->grouping, false)), $node->grouping),
            $node instanceof Outlier => new Outlier($node->place, self::to($node->of, self::kept($labels, $node->grouping, false)), $node->grouping),
            $node instanceof VoiceQuality => new VoiceQuality($node->place, self::to($node->latency, $labels), self::to($node->jitter, $labels), self::to($node->loss, $labels)),
            $node instanceof Binary => self::paired($node, $labels),
            default => $node,
        };
    }

    /** @param array<string, string> $labels */
    private static function paired(Binary $node, array $labels): Binary
    {
        $shared = $node->on === null ? $labels : array_intersect_key($labels, array_flip($node->on));

        return new Binary($node->place, $node->operator, self::to($node->left, $shared), self::to($node->right, $shared), $node->on);
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

    /**
     * @param array<string, string> $labels
     *
     * @return array<string, string>
     */
    private static function kept(array $labels, ?Grouping $grouping, bool $keepsAll): array
    {
        return match (true) {
            $grouping === null => $keepsAll ? $labels : [],
            $grouping->keeps => array_intersect_key($labels, array_flip($grouping->labels)),
            default => array_diff_key($labels, array_flip($grouping->labels)),
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Select;

/** What a person does to a formula without writing it: look at one value of a label only, or at one line a label. */
final class Editing
{
    /**
     * Only series of this metric with this value; a value that was chosen for the label before is given up.
     *
     *     load where host = "a" or host = "b"       only site = "s"   → load where (host = "a" or host = "b") and site = "s"
     *     load where host = "a" and site = "n"      only site = "s"   → load where host = "a" and site = "s"
     */
    public static function only(Node $node, string $metric, string $label, string $value): Node
    {
        if ($node instanceof Select) {
            if ($node->metric !== $metric && $node->metric . '_bucket' !== $metric) {
                return $node;
            }
            $test = new LabelTest($node->place, $label, LabelOperator::Equals, [$value]);
            $rest = $node->where === null ? null : self::without($node->where, $label);

            return new Select($node->place, $node->metric, $rest === null ? $test : new AllOf($rest, $test));
        }

        return Tree::with(
            $node,
            array_map(static fn(Node $child): Node => self::only($child, $metric, $label, $value), Tree::children($node)),
        );
    }

    /**
     * One line for each value of a label, the mean of its series; without a label each series by itself.
     *
     *     rate(jobs, 5m)                 per host   → mean(rate(jobs, 5m)) per host
     *     sum(rate(jobs, 5m)) per site   per host   → sum(rate(jobs, 5m)) per host
     */
    public static function per(Node $node, ?string $label): Node
    {
        [$of, $reducer, $parameter] =
            $node instanceof AcrossSeries ? [$node->of, $node->reducer, $node->parameter] : [$node, SetReducer::Mean, null];

        return $label === null ? $of : new AcrossSeries($node->place(), $reducer, $of, new Grouping(true, [$label]), $parameter);
    }

    /** A filter without the values that are asked of this label beside all else that is asked. */
    private static function without(Filter $filter, string $label): ?Filter
    {
        if ($filter instanceof LabelTest) {
            return $filter->label === $label && $filter->operator === LabelOperator::Equals ? null : $filter;
        }
        if (!($filter instanceof AllOf)) {
            return $filter;
        }
        [$left, $right] = [self::without($filter->left, $label), self::without($filter->right, $label)];

        return $left !== null && $right !== null ? new AllOf($left, $right) : $left ?? $right;
    }
}

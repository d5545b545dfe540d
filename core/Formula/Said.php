<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\Unary;

/**
 * A formula as one would say it: a metric, of which series, over which window, one line for each or some put together. What is
 * too free for that stays a formula.
 *
 * `sum(mean(depth where queue = "boarding", 5m)) per broker` is the mean over 5 min of depth where queue = "boarding", its sum
 * per broker.
 */
final readonly class Said
{
    /**
     * @param TimeReducer|null $reducer null: the last reading
     * @param list<Filter>     $tests   all of which hold
     * @param SetReducer|null  $across  null: each series by itself
     * @param list<string>     $per     labels of which each value is a line
     */
    private function __construct(
        public string $metric,
        public array $tests,
        public ?TimeReducer $reducer,
        public int $windowMs,
        public ?SetReducer $across,
        public array $per,
    ) {
    }

    /** @return self|null null: it is too free to be said */
    public static function of(Node $node): ?self
    {
        $across = null;
        $per = [];
        if ($node instanceof AcrossSeries) {
            if ($node->parameter !== null || $node->grouping?->keeps === false) {
                return null;
            }
            [$across, $per, $node] = [$node->reducer, $node->grouping->labels ?? [], $node->of];
        }
        $reducer = null;
        $windowMs = 0;
        if ($node instanceof OverTime) {
            if ($node->parameter !== null) {
                return null;
            }
            [$reducer, $windowMs, $node] = [$node->reducer, $node->windowMs, $node->of];
        }

        return $node instanceof Select
            ? new self($node->metric, $node->where === null ? [] : self::parts($node->where), $reducer, $windowMs, $across, $per)
            : null;
    }

    /** Whether it is 1 or 0: something that holds or does not. */
    public static function isTruth(Node $node): bool
    {
        return ($node instanceof Binary && $node->operator->strength() >= 2 && $node->operator->strength() <= 4)
            || ($node instanceof Unary && $node->operator === 'not');
    }

    /** @return list<LabelTest> every test of a label in a filter */
    public static function labelTests(Filter $filter): array
    {
        $tests = $filter instanceof LabelTest ? [$filter] : [];
        foreach (get_object_vars($filter) as $part) {
            if ($part instanceof Filter) {
                array_push($tests, ...self::labelTests($part));
            }
        }

        return $tests;
    }

    /** @return list<Filter> */
    private static function parts(Filter $filter): array
    {
        return $filter instanceof AllOf ? [...self::parts($filter->left), ...self::parts($filter->right)] : [$filter];
    }
}

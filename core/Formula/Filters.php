<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\AnyOf;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\NoneOf;

/** What a filter is made of. */
final class Filters
{
    /** @return LabelTest|null one that says which value a label must have, where there is one that all must pass */
    public static function required(Filter $filter): ?LabelTest
    {
        return match (true) {
            $filter instanceof LabelTest => $filter->operator === LabelOperator::Equals ? $filter : null,
            $filter instanceof AllOf => self::required($filter->left) ?? self::required($filter->right),
            default => null,
        };
    }

    /** @return list<LabelTest> every test in it, whichever way it is joined with others */
    public static function tests(Filter $filter): array
    {
        return match (true) {
            $filter instanceof LabelTest => [$filter],
            $filter instanceof AllOf, $filter instanceof AnyOf => [...self::tests($filter->left), ...self::tests($filter->right)],
            $filter instanceof NoneOf => self::tests($filter->of),
            default => [],
        };
    }
}

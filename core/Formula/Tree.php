<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\Age;
use Olivine\Core\Formula\Node\Ago;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\AnyOf;
use Olivine\Core\Formula\Node\Baseline;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Calendar;
use Olivine\Core\Formula\Node\Deviation;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\Foreseen;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Missing;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\NoneOf;
use Olivine\Core\Formula\Node\Now;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Outlier;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\PerValue;
use Olivine\Core\Formula\Node\Raised;
use Olivine\Core\Formula\Node\Ranked;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Node\Twins;
use Olivine\Core\Formula\Node\Unary;
use Olivine\Core\Formula\Node\Usually;
use Olivine\Core\Formula\Node\VoiceQuality;

/** A formula as plain data, for the command line and the API: each part with its kind and its place in the text. */
final class Tree
{
    /** @return list<Node> the parts a part is made of */
    public static function children(Node $node): array
    {
        return match (true) {
            $node instanceof Binary => [$node->left, $node->right],
            $node instanceof VoiceQuality => [$node->latency, $node->jitter, $node->loss],
            $node instanceof OverTime,
            $node instanceof AcrossSeries,
            $node instanceof PerValue,
            $node instanceof Unary,
            $node instanceof Ago,
            $node instanceof Ranked,
            $node instanceof Outlier,
            $node instanceof Baseline,
            $node instanceof Deviation,
            $node instanceof Usually,
            $node instanceof Twins,
            $node instanceof Foreseen,
            $node instanceof Age,
            $node instanceof Missing,
            $node instanceof Percentile,
            $node instanceof ShareBelow
                => [$node->of],
            default => [],
        };
    }

    /**
     * The same part, made of others.
     *
     * @param list<Node> $children as many as it has, of the same kinds where it takes but one kind
     */
    public static function with(Node $node, array $children): Node
    {
        $of = $children[0] ?? null;
        if ($of === null) {
            return $node;
        }
        if ($of instanceof Select) {
            $selecting = match (true) {
                $node instanceof Age => new Age($node->place, $of),
                $node instanceof Missing => new Missing($node->place, $of, $node->windowMs),
                $node instanceof Percentile => new Percentile(
                    $node->place,
                    $node->percent,
                    $of,
                    $node->windowMs,
                    $node->grouping,
                ),
                $node instanceof ShareBelow => new ShareBelow($node->place, $node->bound, $of, $node->windowMs, $node->grouping),
                default => null,
            };
            if ($selecting !== null) {
                return $selecting;
            }
        }

        return match (true) {
            $node instanceof Binary => new Binary($node->place, $node->operator, $of, $children[1], $node->on),
            $node instanceof VoiceQuality => new VoiceQuality($node->place, $of, $children[1], $children[2]),
            $node instanceof OverTime => new OverTime($node->place, $node->reducer, $of, $node->windowMs, $node->parameter),
            $node instanceof AcrossSeries => new AcrossSeries(
                $node->place,
                $node->reducer,
                $of,
                $node->grouping,
                $node->parameter,
            ),
            $node instanceof PerValue => new PerValue($node->place, $node->function, $of, $node->arguments),
            $node instanceof Unary => new Unary($node->place, $node->operator, $of),
            $node instanceof Ago => new Ago($node->place, $of, $node->byMs),
            $node instanceof Ranked => new Ranked($node->place, $node->highest, $node->count, $of, $node->grouping),
            $node instanceof Outlier => new Outlier($node->place, $of, $node->grouping),
            $node instanceof Baseline => new Baseline($node->place, $of, $node->method, $node->spanMs),
            $node instanceof Deviation => new Deviation($node->place, $of, $node->yardstick, $node->spanMs),
            $node instanceof Usually => new Usually($of, $node->method, $node->spanMs, $node->warmUpMs, $node->part),
            $node instanceof Twins => new Twins($of, $node->grouping, $node->part),
            $node instanceof Foreseen => new Foreseen($of, $node->withinMs, $node->spanMs, $node->part),
            default => throw new \LogicException('No way to make ' . $node::class . ' of other parts'),
        };
    }

    /** @return list<Select> every selection in it */
    public static function selections(Node $node): array
    {
        if ($node instanceof Percentile || $node instanceof ShareBelow) {
            return [new Select($node->of->place, $node->of->metric . '_bucket', $node->of->where)];
        }

        return $node instanceof Select
            ? [$node]
            : array_merge(...array_map(self::selections(...), self::children($node)), ...[[]]);
    }

    /** @return list<string> the rules whose alerts it looks at */
    public static function rules(Node $node): array
    {
        $own = $node instanceof Raised ? [$node->rule] : [];

        return array_values(array_unique(array_merge($own, ...array_map(self::rules(...), self::children($node)))));
    }

    /** @return int the longest window that something in it is reduced over; baselines look back, but do not wait */
    public static function longestWindowMs(Node $node): int
    {
        $own =
            $node instanceof OverTime || $node instanceof Percentile || $node instanceof ShareBelow || $node instanceof Missing
                ? $node->windowMs
                : 0;

        return max($own, 0, ...array_map(self::longestWindowMs(...), self::children($node)));
    }

    /** @return array<string, mixed> */
    public static function data(Node $node): array
    {
        $children = array_map(self::data(...), self::children($node));
        $own = match (true) {
            $node instanceof Number => ['kind' => 'number', 'value' => $node->value, 'unit' => $node->unit?->value],
            $node instanceof Now => ['kind' => 'now'],
            $node instanceof Raised => ['kind' => 'raised', 'rule' => $node->rule],
            $node instanceof Calendar => ['kind' => $node->part->value, 'zone' => $node->zone->getName()],
            $node instanceof Select => [
                'kind' => 'select',
                'metric' => $node->metric,
                'where' => $node->where === null ? null : self::filter($node->where),
            ],
            $node instanceof Ago => ['kind' => 'ago', 'bySeconds' => $node->byMs / 1000],
            $node instanceof OverTime => [
                'kind' => 'over time',
                'function' => $node->reducer->value,
                'windowSeconds' => $node->windowMs / 1000,
            ] + ($node->parameter === null ? [] : ['parameter' => $node->parameter]),
            $node instanceof AcrossSeries => ['kind' => 'across series', 'function' => $node->reducer->value] +
                ($node->parameter === null ? [] : ['parameter' => $node->parameter]) +
                self::grouping($node->grouping),
            $node instanceof Ranked => ['kind' => $node->highest ? 'top' : 'bottom', 'count' => $node->count] +
                self::grouping($node->grouping),
            $node instanceof Outlier => ['kind' => 'outlier'] + self::grouping($node->grouping),
            $node instanceof Age => ['kind' => 'age'],
            $node instanceof Missing => ['kind' => 'missing', 'windowSeconds' => $node->windowMs / 1000],
            $node instanceof Baseline => [
                'kind' => 'baseline',
                'method' => $node->method->value,
                'spanSeconds' => $node->spanMs / 1000,
            ],
            $node instanceof Deviation => [
                'kind' => 'deviation',
                'yardstick' => $node->yardstick->value,
                'spanSeconds' => $node->spanMs / 1000,
            ],
            $node instanceof Percentile => [
                'kind' => 'percentile',
                'percent' => $node->percent,
                'windowSeconds' => $node->windowMs / 1000,
            ] + self::grouping($node->grouping),
            $node instanceof ShareBelow => [
                'kind' => 'share below',
                'bound' => $node->bound,
                'windowSeconds' => $node->windowMs / 1000,
            ] + self::grouping($node->grouping),
            $node instanceof VoiceQuality => ['kind' => 'voice quality'],
            $node instanceof PerValue => ['kind' => 'per value', 'function' => $node->function, 'arguments' => $node->arguments],
            $node instanceof Unary => ['kind' => $node->operator === '-' ? 'negative' : 'not'],
            $node instanceof Binary => ['kind' => 'operator', 'operator' => $node->operator->value] +
                ($node->on === null ? [] : ['on' => $node->on]),
            default => throw new \LogicException('No data of ' . $node::class),
        };

        return $own + ['offset' => $node->place()->offset, 'length' => $node->place()->length] +
            ($children === [] ? [] : ['of' => $children]);
    }

    /** @return array<string, mixed> */
    private static function filter(Filter $filter): array
    {
        return match (true) {
            $filter instanceof AllOf => ['and' => [self::filter($filter->left), self::filter($filter->right)]],
            $filter instanceof AnyOf => ['or' => [self::filter($filter->left), self::filter($filter->right)]],
            $filter instanceof NoneOf => ['not' => self::filter($filter->of)],
            $filter instanceof LabelTest => [
                'label' => $filter->label,
                'operator' => $filter->operator->value,
                'values' => $filter->values,
                'offset' => $filter->place->offset,
                'length' => $filter->place->length,
            ],
            default => throw new \LogicException('No data of ' . $filter::class),
        };
    }

    /** @return array<string, list<string>> */
    private static function grouping(?Grouping $grouping): array
    {
        return $grouping === null ? [] : [$grouping->keeps ? 'per' : 'dropping' => $grouping->labels];
    }
}

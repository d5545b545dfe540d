<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\AnyOf;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\NoneOf;
use Olivine\Core\Formula\Node\Now;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\PerValue;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\Unary;

/** Writes a tree as a formula that parses to the same tree. */
final class Printer
{
    public static function print(Node $node): string
    {
        return match (true) {
            $node instanceof Number => $node->text,
            $node instanceof Now => 'now()',
            $node instanceof Select => self::name($node->metric) . ($node->where === null ? '' : ' where ' . self::filter($node->where)),
            $node instanceof OverTime => "{$node->reducer->value}(" . self::print($node->of) . ', ' . self::duration($node->windowMs) . ')',
            $node instanceof AcrossSeries => "{$node->reducer->value}(" . self::print($node->of) . ')' . ($node->grouping === null
                ? '' : ($node->grouping->keeps ? ' per ' : ' dropping ') . implode(', ', array_map(self::name(...), $node->grouping->labels))),
            $node instanceof PerValue => "{$node->function}(" . implode(', ', [self::print($node->of), ...array_map(self::float(...), $node->arguments)]) . ')',
            $node instanceof Unary => ($node->operator === 'not' ? 'not ' : '-') . self::inner($node->of),
            $node instanceof Binary => self::inner($node->left) . " {$node->operator->value} " . self::inner($node->right)
                . ($node->on === null ? '' : ' on ' . implode(', ', array_map(self::name(...), $node->on))),
            default => throw new \LogicException('No way to print ' . $node::class),
        };
    }

    /** `90000` → `1m30s`. */
    public static function duration(int $milliseconds): string
    {
        $text = '';
        foreach (['w' => 604_800_000, 'd' => 86_400_000, 'h' => 3_600_000, 'm' => 60_000, 's' => 1_000, 'ms' => 1] as $unit => $size) {
            $count = intdiv($milliseconds, $size);
            if ($count > 0) {
                $text .= $count . $unit;
                $milliseconds -= $count * $size;
            }
        }

        return $text === '' ? '0s' : $text;
    }

    private static function inner(Node $node): string
    {
        $text = self::print($node);

        return $node instanceof Binary || $node instanceof Unary || $node instanceof Select && $node->where !== null ? "({$text})" : $text;
    }

    private static function filter(Filter $filter): string
    {
        return match (true) {
            $filter instanceof AllOf => self::filterInner($filter->left, false) . ' and ' . self::filterInner($filter->right, true),
            $filter instanceof AnyOf => self::filter($filter->left) . ' or ' . ($filter->right instanceof AnyOf ? '(' . self::filter($filter->right) . ')' : self::filter($filter->right)),
            $filter instanceof NoneOf => 'not ' . ($filter->of instanceof LabelTest || $filter->of instanceof NoneOf ? self::filter($filter->of) : '(' . self::filter($filter->of) . ')'),
            $filter instanceof LabelTest => self::name($filter->label) . " {$filter->operator->value} " . (
                $filter->operator === LabelOperator::In || $filter->operator === LabelOperator::NotIn
                    ? '(' . implode(', ', array_map(self::quote(...), $filter->values)) . ')'
                    : self::quote($filter->values[0])
            ),
            default => throw new \LogicException('No way to print ' . $filter::class),
        };
    }

    private static function filterInner(Filter $filter, bool $right): string
    {
        return $filter instanceof AnyOf || ($right && $filter instanceof AllOf) ? '(' . self::filter($filter) . ')' : self::filter($filter);
    }

    private static function name(string $name): string
    {
        return preg_match('~^[a-zA-Z_:][a-zA-Z0-9_:]*$~D', $name) === 1 && !in_array($name, ['where', 'and', 'or', 'not', 'in', 'like', 'matches', 'per', 'dropping', 'default', 'on'], true) ? $name : "`{$name}`";
    }

    private static function quote(string $text): string
    {
        return '"' . addcslashes($text, '"\\') . '"';
    }

    private static function float(float $value): string
    {
        return (string) json_encode($value);
    }
}

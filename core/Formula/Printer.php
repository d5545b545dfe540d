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
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\LabelOperator;
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
use Olivine\Core\Formula\Node\Unary;
use Olivine\Core\Formula\Node\VoiceQuality;

/** Writes a tree as a formula that parses to the same tree. */
final class Printer
{
    public static function print(Node $node): string
    {
        return match (true) {
            $node instanceof Number => $node->text,
            $node instanceof Now => 'now()',
            $node instanceof Select => self::name($node->metric) .
                ($node->where === null ? '' : ' where ' . self::filter($node->where)),
            $node instanceof Calendar => $node->part->value .
                '(' .
                ($node->zone->getName() === 'UTC' ? '' : self::quote($node->zone->getName())) .
                ')',
            $node instanceof Raised => 'raised(' . self::quote($node->rule) . ')',
            $node instanceof Ago => self::inner($node->of) . ' ago ' . self::duration($node->byMs),
            $node instanceof OverTime => self::overTime($node),
            $node instanceof AcrossSeries => "{$node->reducer->value}(" .
                ($node->parameter === null ? '' : self::float($node->parameter) . ', ') .
                self::print($node->of) .
                ')' .
                self::grouping($node->grouping),
            $node instanceof Ranked => ($node->highest ? 'top' : 'bottom') .
                "({$node->count}, " .
                self::print($node->of) .
                ')' .
                self::grouping($node->grouping),
            $node instanceof Outlier => 'outlier(' . self::print($node->of) . ')' . self::grouping($node->grouping),
            $node instanceof Age => 'age(' . self::print($node->of) . ')',
            $node instanceof Missing => 'missing(' . self::print($node->of) . ', ' . self::duration($node->windowMs) . ')',
            $node instanceof Baseline => 'baseline(' .
                self::print($node->of) .
                ", {$node->method->value}, " .
                self::duration($node->spanMs) .
                ')',
            $node instanceof Deviation => 'deviation(' .
                self::print($node->of) .
                ", {$node->yardstick->value}, " .
                self::duration($node->spanMs) .
                ')',
            $node instanceof Percentile => self::ofBuckets('percentile', $node->percent, $node),
            $node instanceof ShareBelow => self::ofBuckets('share_below', $node->bound, $node),
            $node instanceof VoiceQuality => 'voice_quality(' .
                self::print($node->latency) .
                ', ' .
                self::print($node->jitter) .
                ', ' .
                self::print($node->loss) .
                ')',
            $node instanceof PerValue => "{$node->function}(" .
                implode(', ', [self::print($node->of), ...array_map(self::float(...), $node->arguments)]) .
                ')',
            $node instanceof Unary => ($node->operator === 'not' ? 'not ' : '-') . self::inner($node->of),
            $node instanceof Binary => self::inner($node->left) .
                " {$node->operator->value} " .
                self::inner($node->right) .
                ($node->on === null ? '' : ' on ' . implode(', ', array_map(self::labelOfList(...), $node->on))),
            default => throw new \LogicException('No way to print ' . $node::class),
        };
    }

    /** `queue = "boarding"`, as it follows where. */
    public static function condition(Filter $filter): string
    {
        return self::filterInner($filter, true);
    }

    /** `90000` → `1m30s`. */
    public static function duration(int $milliseconds): string
    {
        $text = '';
        foreach (
            ['w' => 604_800_000, 'd' => 86_400_000, 'h' => 3_600_000, 'm' => 60_000, 's' => 1_000, 'ms' => 1] as $unit => $size
        ) {
            $count = intdiv($milliseconds, $size);
            if ($count > 0) {
                $text .= $count . $unit;
                $milliseconds -= $count * $size;
            }
        }

        return $text === '' ? '0s' : $text;
    }

    private static function overTime(OverTime $node): string
    {
        $of = self::print($node->of);
        $window = self::duration($node->windowMs);

        return match ($node->reducer) {
            TimeReducer::Quantile => 'quantile(' . self::float((float) $node->parameter) . ", {$of}, {$window})",
            TimeReducer::Forecast => "forecast({$of}, " .
                self::duration((int) round((float) $node->parameter * 1000)) .
                ", {$window})",
            default => "{$node->reducer->value}({$of}, {$window})",
        };
    }

    private static function ofBuckets(string $name, float $number, Percentile|ShareBelow $node): string
    {
        $arguments = [self::float($number), self::print($node->of), self::duration($node->windowMs)];

        return "{$name}(" . implode(', ', $arguments) . ')' . self::grouping($node->grouping);
    }

    private static function grouping(?Grouping $grouping): string
    {
        return $grouping === null
            ? ''
            : ($grouping->keeps ? ' per ' : ' dropping ') . implode(', ', array_map(self::labelOfList(...), $grouping->labels));
    }

    private static function labelOfList(string $label): string
    {
        return in_array($label, Parser::METHODS, true) ? "`{$label}`" : self::name($label);
    }

    private static function inner(Node $node): string
    {
        $text = self::print($node);

        return $node instanceof Binary
            || $node instanceof Unary
            || $node instanceof Ago
            || ($node instanceof Select && $node->where !== null)
            ? "({$text})"
            : $text;
    }

    private static function filter(Filter $filter): string
    {
        return match (true) {
            $filter instanceof AllOf => self::filterInner($filter->left, false) .
                ' and ' .
                self::filterInner($filter->right, true),
            $filter instanceof AnyOf => self::filter($filter->left) .
                ' or ' .
                ($filter->right instanceof AnyOf ? '(' . self::filter($filter->right) . ')' : self::filter($filter->right)),
            $filter instanceof NoneOf => 'not ' .
                ($filter->of instanceof LabelTest || $filter->of instanceof NoneOf
                    ? self::filter($filter->of)
                    : '(' . self::filter($filter->of) . ')'),
            $filter instanceof LabelTest => self::name($filter->label) .
                " {$filter->operator->value} " .
                ($filter->operator === LabelOperator::In || $filter->operator === LabelOperator::NotIn
                    ? '(' . implode(', ', array_map(self::quote(...), $filter->values)) . ')'
                    : self::quote($filter->values[0])),
            default => throw new \LogicException('No way to print ' . $filter::class),
        };
    }

    private static function filterInner(Filter $filter, bool $right): string
    {
        return $filter instanceof AnyOf || ($right && $filter instanceof AllOf)
            ? '(' . self::filter($filter) . ')'
            : self::filter($filter);
    }

    private static function name(string $name): string
    {
        return preg_match('~^[a-zA-Z_:][a-zA-Z0-9_:]*$~D', $name) === 1 && !in_array($name, Parser::WORDS, true)
            ? $name
            : "`{$name}`";
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

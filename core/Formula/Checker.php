<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Now;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\PerValue;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\Unary;
use Olivine\Core\Formula\Node\Unit;

/** Holds a tree against what is known: metrics that do not exist, units that cannot be compared. */
final readonly class Checker
{
    public function __construct(private Catalogue $catalogue)
    {
    }

    /**
     * @return string the unit of the result, "" where it has none or none is certain
     *
     * @throws FormulaError
     */
    public function unitOf(Node $node): string
    {
        return match (true) {
            $node instanceof Number => $node->unit === null ? '' : $node->unit->value,
            $node instanceof Now => 'seconds',
            $node instanceof Select => $this->metric($node),
            $node instanceof OverTime => self::overTime($node, $this->unitOf($node->of)),
            $node instanceof AcrossSeries => $node->reducer === SetReducer::Count ? $this->none($node->of) : $this->unitOf($node->of),
            $node instanceof PerValue => $this->unitOf($node->of),
            $node instanceof Unary => $node->operator === 'not' ? $this->none($node->of) : $this->unitOf($node->of),
            $node instanceof Binary => $this->binary($node),
            default => '',
        };
    }

    private function none(Node $node): string
    {
        $this->unitOf($node);

        return '';
    }

    private function metric(Select $node): string
    {
        if (!$this->catalogue->has($node->metric)) {
            throw new FormulaError($node->place, "No target has brought a metric {$node->metric}", Nearest::to($node->metric, $this->catalogue->names()));
        }

        return $this->catalogue->unit($node->metric);
    }

    private static function overTime(OverTime $node, string $unit): string
    {
        return match ($node->reducer) {
            TimeReducer::Count => '',
            TimeReducer::Rate => $unit === 'seconds' ? 'ratio' : ($unit === '' ? 'per second' : "{$unit} per second"),
            default => $unit,
        };
    }

    private function binary(Binary $node): string
    {
        $left = $this->unitOf($node->left);
        $right = $this->unitOf($node->right);
        if ($node->operator->needsSameUnit()) {
            foreach ([[$node->left, $left, $right], [$node->right, $right, $left]] as [$side, $own, $other]) {
                if ($side instanceof Number && $side->unit !== null && $other !== '' && $own !== $other && Unit::tryFrom($other) !== null) {
                    throw new FormulaError($side->place, "{$side->text} is in {$own}, the other side in {$other}");
                }
            }
        }

        return match ($node->operator) {
            Operator::Plus, Operator::Minus, Operator::Default, Operator::Modulo => $left !== '' ? $left : $right,
            Operator::Times => $node->right instanceof Number ? $left : ($node->left instanceof Number ? $right : ''),
            Operator::Over => $node->right instanceof Number ? $left : ($left !== '' && $left === $right ? 'ratio' : ''),
            default => '',
        };
    }
}

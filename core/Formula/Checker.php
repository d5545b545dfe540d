<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\Age;
use Olivine\Core\Formula\Node\Ago;
use Olivine\Core\Formula\Node\Baseline;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Deviation;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\Missing;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Now;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Outlier;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\PerValue;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Ranked;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Node\Unary;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Node\VoiceQuality;

/** Holds a tree against what is known: metrics that do not exist, labels that are misspelt, units that cannot be compared. */
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
        $this->checkGrouping($node);

        return match (true) {
            $node instanceof Number => $node->unit === null ? '' : $node->unit->value,
            $node instanceof Now => 'seconds',
            $node instanceof Select => $this->metric($node),
            $node instanceof OverTime => self::overTime($node, $this->unitOf($node->of)),
            $node instanceof AcrossSeries => $node->reducer === SetReducer::Count
                ? $this->none($node->of)
                : $this->unitOf($node->of),
            $node instanceof PerValue => in_array($node->function, ['sqrt', 'ln', 'log2'], true)
                ? $this->none($node->of)
                : $this->unitOf($node->of),
            $node instanceof Ago, $node instanceof Ranked, $node instanceof Baseline => $this->unitOf($node->of),
            $node instanceof Outlier, $node instanceof Deviation, $node instanceof Missing => $this->none($node->of),
            $node instanceof Age => $this->seconds($node->of),
            $node instanceof Percentile => $this->histogram($node->of),
            $node instanceof ShareBelow => $this->share($node),
            $node instanceof VoiceQuality => $this->voice($node),
            $node instanceof Unary => $node->operator === 'not' ? $this->none($node->of) : $this->unitOf($node->of),
            $node instanceof Binary => $this->binary($node),
            default => '',
        };
    }

    /** @throws FormulaError */
    private function none(Node $node): string
    {
        $this->unitOf($node);

        return '';
    }

    /** @throws FormulaError */
    private function seconds(Node $node): string
    {
        $this->unitOf($node);

        return 'seconds';
    }

    /**
     * A histogram is named as a whole; its buckets are what is read.
     *
     * @throws FormulaError
     */
    private function histogram(Select $node): string
    {
        if (!$this->catalogue->has("{$node->metric}_bucket")) {
            $histograms = [];
            foreach ($this->catalogue->names() as $name) {
                if (str_ends_with($name, '_bucket')) {
                    $histograms[] = substr($name, 0, -strlen('_bucket'));
                }
            }
            throw new FormulaError(
                $node->place,
                $this->catalogue->has($node->metric)
                    ? "{$node->metric} is no histogram: it has no buckets"
                    : "No target has brought a histogram {$node->metric}",
                Nearest::to($node->metric, $histograms),
            );
        }
        $this->checkFilter("{$node->metric}_bucket", $node->where);

        return MetricUnit::ofName($node->metric);
    }

    /** @throws FormulaError */
    private function share(ShareBelow $node): string
    {
        $this->histogram($node->of);

        return 'ratio';
    }

    /** @throws FormulaError */
    private function voice(VoiceQuality $node): string
    {
        foreach ([[$node->latency, 'seconds'], [$node->jitter, 'seconds'], [$node->loss, 'ratio']] as [$part, $needed]) {
            $unit = $this->unitOf($part);
            if ($unit !== '' && $unit !== $needed) {
                throw new FormulaError(
                    $part->place(),
                    "voice_quality takes latency and jitter in seconds and loss as a share from 0 to 1; this is in {$unit}",
                );
            }
        }

        return '';
    }

    /** @throws FormulaError */
    private function metric(Select $node): string
    {
        if (!$this->catalogue->has($node->metric)) {
            throw new FormulaError(
                $node->place,
                "No target has brought a metric {$node->metric}",
                Nearest::to($node->metric, $this->catalogue->names()),
            );
        }

        $this->checkFilter($node->metric, $node->where);

        return $this->catalogue->unit($node->metric);
    }

    /** @throws FormulaError */
    private function checkFilter(string $metric, ?Filter $where): void
    {
        foreach ($where === null ? [] : Filters::tests($where) as $test) {
            $this->checkLabel($test->label, $test->place, [$metric]);
        }
    }

    /**
     * A label in per or dropping that none of the series has is most likely misspelt.
     *
     * @throws FormulaError
     */
    private function checkGrouping(Node $node): void
    {
        $grouping =
            $node instanceof AcrossSeries
            || $node instanceof Ranked
            || $node instanceof Outlier
            || $node instanceof Percentile
            || $node instanceof ShareBelow
                ? $node->grouping
                : null;
        $metrics = $grouping === null ? [] : array_map(static fn(Select $one): string => $one->metric, Tree::selections($node));
        foreach ($grouping->labels ?? [] as $label) {
            $this->checkLabel($label, $node->place(), $metrics);
        }
    }

    /**
     * What a series lacks reads as "", so a label that nothing has may be meant; one that is nearly another is not.
     *
     * @param list<string> $metrics
     *
     * @throws FormulaError
     */
    private function checkLabel(string $label, Place $place, array $metrics): void
    {
        $known = array_values(array_unique(array_merge(...array_map($this->catalogue->labels(...), $metrics))));
        $meant = in_array($label, $known, true) ? null : Nearest::to($label, $known);
        if ($meant !== null) {
            throw new FormulaError($place, sprintf('No series of %s has a label %s', implode(' or ', $metrics), $label), $meant);
        }
    }

    private static function overTime(OverTime $node, string $unit): string
    {
        return match ($node->reducer) {
            TimeReducer::Count => '',
            TimeReducer::Rate, TimeReducer::Slope => $unit === 'seconds'
                ? 'ratio'
                : ($unit === ''
                    ? 'per second'
                    : "{$unit} per second"),
            default => $unit,
        };
    }

    /** @throws FormulaError */
    private function binary(Binary $node): string
    {
        $left = $this->unitOf($node->left);
        $right = $this->unitOf($node->right);
        if ($node->operator->needsSameUnit()) {
            foreach ([[$node->left, $left, $right], [$node->right, $right, $left]] as [$side, $own, $other]) {
                if (
                    $side instanceof Number
                    && $side->unit !== null
                    && $other !== ''
                    && $own !== $other
                    && Unit::tryFrom($other) !== null
                ) {
                    throw new FormulaError($side->place, "{$side->text} is in {$own}, the other side in {$other}");
                }
            }
        }

        return match ($node->operator) {
            Operator::Plus, Operator::Minus, Operator::Default, Operator::Modulo => $left !== '' ? $left : $right,
            Operator::Times => match (true) {
                $right === '' || $right === 'ratio' => $left,
                $left === '' || $left === 'ratio' => $right,
                $right === 'seconds' && str_ends_with($left, ' per second') => substr($left, 0, -strlen(' per second')),
                default => '',
            },
            Operator::Over => match (true) {
                $right === '' => $left,
                $left === $right => 'ratio',
                $right === 'seconds' => $left === '' ? 'per second' : "{$left} per second",
                default => '',
            },
            default => '',
        };
    }
}

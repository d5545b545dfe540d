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
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;

/**
 * Works a formula out over a range of instants, one column of values a series.
 *
 * Invariants: an instant is a range of one; a range in two halves equals the whole. So nothing here may depend
 * on where a range begins: windows are summed reading by reading, inner formulas run on a grid of fixed instants.
 */
final readonly class Evaluator
{
    /** The grid on which the inner formula of `max(rate(x, 1m), 1h)` is worked out. */
    public const INNER_STEP_MS = 15_000;

    public function __construct(private ReadingSource $source)
    {
    }

    /**
     * @param int $fromMs the first instant
     * @param int $toMs   the last one is at or before this
     *
     * @throws FormulaError where two sides cannot be paired
     */
    public function range(Node $formula, int $fromMs, int $toMs, int $stepMs): Lines
    {
        $lines = $this->evaluate($formula, range($fromMs, max($fromMs, $toMs - ($toMs - $fromMs) % $stepMs), $stepMs));

        return new Lines(array_values(array_filter($lines->lines, static fn(Line $line): bool => !$line->isEmpty())), $lines->isNumber);
    }

    /** @param non-empty-list<int> $instants */
    private function evaluate(Node $node, array $instants): Lines
    {
        return match (true) {
            $node instanceof Number => new Lines([new Line(LabelSet::none(), array_fill(0, count($instants), $node->value))], true),
            $node instanceof Now => new Lines([new Line(LabelSet::none(), array_map(static fn(int $at): float => $at / 1000, $instants))], true),
            $node instanceof Select => $this->select($node, $instants),
            $node instanceof OverTime => $this->overTime($node, $instants),
            $node instanceof AcrossSeries => $this->acrossSeries($node, $instants),
            $node instanceof PerValue => $this->perValue($node, $instants),
            $node instanceof Unary => $this->unary($node, $instants),
            $node instanceof Binary => (new Pairing($node))->apply($this->evaluate($node->left, $instants), $this->evaluate($node->right, $instants), count($instants)),
            default => throw new \LogicException('No way to work out ' . $node::class),
        };
    }

    /**
     * The newest reading at each instant, unless it is stale or the series ended.
     *
     * @param non-empty-list<int> $instants
     */
    private function select(Select $node, array $instants): Lines
    {
        $lines = [];
        foreach ($this->source->windows($node, $instants[0] - $this->source->longestStaleMs(), end($instants)) as $window) {
            $values = [];
            $next = 0;
            $count = count($window->times);
            foreach ($instants as $at) {
                while ($next < $count && $window->times[$next] <= $at) {
                    ++$next;
                }
                $values[] = $next > 0 && $window->times[$next - 1] > $at - $window->staleMs ? $window->values[$next - 1] : null;
            }
            $lines[] = new Line($window->labels, $values);
        }

        return new Lines($lines);
    }

    /** @param non-empty-list<int> $instants */
    private function overTime(OverTime $node, array $instants): Lines
    {
        $lines = [];
        foreach ($this->inner($node, $instants) as $window) {
            $lines[] = new Line($window->labels, (new SlidingWindow($window))->reduce($node->reducer, $node->windowMs, $instants));
        }

        return new Lines($lines);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @return list<Window>
     */
    private function inner(OverTime $node, array $instants): array
    {
        $after = $instants[0] - $node->windowMs;
        $through = end($instants);
        if ($node->of instanceof Select) {
            $back = $node->reducer->countsGrowth() ? $this->source->longestStaleMs() : 0;

            return $this->source->windows($node->of, $after - $back, $through);
        }
        $first = (intdiv($after, self::INNER_STEP_MS) + 1) * self::INNER_STEP_MS;
        if ($first > $through) {
            return [];
        }
        $grid = range($first, $through, self::INNER_STEP_MS);

        return array_map(
            static fn(Line $line): Window => new Window($line->labels, $grid, $line->values, self::INNER_STEP_MS),
            $this->evaluate($node->of, $grid)->lines,
        );
    }

    /** @param non-empty-list<int> $instants */
    private function acrossSeries(AcrossSeries $node, array $instants): Lines
    {
        $groups = [];
        foreach ($this->evaluate($node->of, $instants)->lines as $line) {
            $labels = match (true) {
                $node->grouping === null => LabelSet::none(),
                $node->grouping->keeps => $line->labels->only($node->grouping->labels),
                default => $line->labels->without($node->grouping->labels),
            };
            $groups[$labels->key()] ??= [$labels, []];
            $groups[$labels->key()][1][] = $line->values;
        }
        $lines = [];
        foreach ($groups as [$labels, $columns]) {
            $values = [];
            foreach ($instants as $i => $_) {
                $present = [];
                foreach ($columns as $column) {
                    if ($column[$i] !== null && !is_nan($column[$i])) {
                        $present[] = $column[$i];
                    }
                }
                $values[] = $present === [] ? null : $node->reducer->reduce($present);
            }
            $lines[] = new Line($labels, $values);
        }

        return new Lines($lines);
    }

    /** @param non-empty-list<int> $instants */
    private function perValue(PerValue $node, array $instants): Lines
    {
        $arguments = $node->arguments;
        $apply = match ($node->function) {
            'abs' => abs(...),
            'ceil' => ceil(...),
            'floor' => floor(...),
            'round' => round(...),
            'sqrt' => sqrt(...),
            'ln' => log(...),
            'log2' => static fn(float $value): float => log($value, 2),
            'clamp' => static fn(float $value): float => is_nan($value) ? $value : max($arguments[0], min($arguments[1], $value)),
            default => throw new \LogicException("No function {$node->function}"),
        };

        return self::map($this->evaluate($node->of, $instants), $apply);
    }

    /** @param non-empty-list<int> $instants */
    private function unary(Unary $node, array $instants): Lines
    {
        return self::map($this->evaluate($node->of, $instants), $node->operator === '-'
            ? static fn(float $value): float => -$value
            : static fn(float $value): float => Operator::holds($value) ? 0.0 : 1.0);
    }

    /** @param callable(float): float $apply */
    private static function map(Lines $of, callable $apply): Lines
    {
        $lines = [];
        foreach ($of->lines as $line) {
            $lines[] = new Line($line->labels, array_map(static fn(?float $value): ?float => $value === null ? null : $apply($value), $line->values));
        }

        return new Lines($lines, $of->isNumber);
    }
}

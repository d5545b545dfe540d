<?php

declare(strict_types=1);

namespace Olivine\App\Formula;

use Olivine\App\Formula\Answer\FormulaReading;
use Olivine\App\Formula\Answer\SaidFormula;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Nearest;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Formula\Said;
use Olivine\Core\Formula\Tree;

/** Says a formula in words, and points out what hardly is meant in it. */
final readonly class FormulaReader
{
    public function __construct(private SeriesIndex $index)
    {
    }

    /** @throws FormulaError where the formula cannot be read */
    public function read(string $text): FormulaReading
    {
        $tree = Parser::parse($text);
        // With names of its own it is too free for a sentence, and is left as it was typed.
        $hasNames = Parser::hasNames($text);
        $said = $hasNames ? null : Said::of($tree);
        $notes = [];
        foreach (Tree::selections($tree) as $selection) {
            if ($selection->where !== null) {
                array_push($notes, ...$this->notes($selection->metric, Said::labelTests($selection->where)));
            }
        }

        return new FormulaReading(
            formula: $hasNames ? $text : Printer::print($tree),
            notes: array_values(array_unique($notes)),
            said: $said === null
                ? null
                : new SaidFormula(
                    across: $said->across?->value,
                    metric: $said->metric,
                    per: $said->per,
                    reducer: $said->reducer?->value,
                    tests: array_map(static fn(Filter $test): string => Printer::condition($test), $said->tests),
                    windowSeconds: intdiv($said->windowMs, 1000),
                ),
            truth: Said::isTruth($tree),
        );
    }

    /**
     * @param list<LabelTest> $tests
     *
     * @return list<string>
     */
    private function notes(string $metric, array $tests): array
    {
        $values = [];
        foreach ($this->index->ofMetric($metric) as $series) {
            foreach ($series->labels->labels as $label => $value) {
                $values[(string) $label][$value] = true;
            }
        }
        if ($values === []) {
            return [];
        }
        $notes = [];
        foreach ($tests as $test) {
            if (!isset($values[$test->label])) {
                $near = Nearest::to($test->label, array_map(strval(...), array_keys($values)));
                $notes[] = "No series of {$metric} has the label {$test->label}" . ($near === null ? '.' : "; did you mean {$near}?");
                continue;
            }
            if ($test->operator !== LabelOperator::Equals && $test->operator !== LabelOperator::In) {
                continue;
            }
            $known = array_map(strval(...), array_keys($values[$test->label]));
            foreach (array_diff($test->values, $known) as $value) {
                $near = Nearest::to($value, $known);
                $notes[] = "No series of {$metric} has {$test->label} = \"{$value}\"" . ($near === null ? '.' : "; did you mean {$near}?");
            }
        }

        return $notes;
    }
}

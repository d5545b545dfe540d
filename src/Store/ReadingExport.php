<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextWriter;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\LabelSet;

/**
 * Readings out of the store, as text for other tools. A bare metric gives its readings as they came, each at its own
 * time; any other formula is worked out step by step.
 *
 * CSV (RFC 4180): a row a reading, `time,metric,value`, then a column a label. Times are RFC 3339 in UTC.
 * JSON lines: an object a series, `{"metric", "labels", "times", "values"}`, times in milliseconds.
 * OpenMetrics: with timestamps, families together, `# EOF` at the end.
 */
final readonly class ReadingExport
{
    /** What every CSV has, before a column a label. */
    public const COLUMNS = ['time', 'metric', 'value'];
    private const MOST_READINGS = 200_000_000;
    /** Held at once. */
    private const READINGS_A_PART = 500_000;

    public function __construct(
        private StoredReadings $readings,
        private SeriesIndex $index,
        private Evaluator $evaluator,
        private Checker $checker,
        private MetricCatalogue $catalogue,
    ) {
    }

    /**
     * @return iterable<string> pieces of the text
     *
     * @throws TooMuchToRead before the first piece
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws DamagedBlock  where what is stored is not what was written
     */
    public function text(Node $formula, int $fromMs, int $toMs, ?int $stepMs, ExportForm $form): iterable
    {
        $this->checker->unitOf($formula);
        $isRaw = $formula instanceof Select && $stepMs === null;
        $readings = $isRaw ? $this->readings->estimate($formula, $fromMs, $toMs)->readings : 0.0;
        if ($readings > self::MOST_READINGS) {
            throw new TooMuchToRead(
                sprintf(
                    'That would be about %s M readings, more than the %d M that one export may hold; choose a shorter span',
                    number_format($readings / 1e6, 1),
                    self::MOST_READINGS / 1_000_000,
                ),
            );
        }
        $series = $isRaw ? $this->raw($formula, $fromMs, $toMs) : $this->workedOut($formula, $fromMs, $toMs, $stepMs ?? 60_000);
        $metric = $formula instanceof Select ? $formula->metric : 'formula';

        return match ($form) {
            ExportForm::Csv => self::csv(
                $metric,
                $isRaw ? self::names($this->index->select($formula)) : self::names(is_array($series) ? $series : []),
                $series,
            ),
            ExportForm::JsonLines => self::jsonLines($metric, $series),
            ExportForm::OpenMetrics => $this->openMetrics($metric, $series),
        };
    }

    /**
     * @return iterable<string> the newest reading of every series, as one scrape of everything
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function newest(int $nowMs): iterable
    {
        foreach ($this->catalogue->names() as $metric) {
            $lines = $this->evaluator->range(new Select(new Place(0, 0), $metric, null), $nowMs, $nowMs, 1)->lines;
            if ($lines === []) {
                continue;
            }
            yield $this->head($metric);
            foreach ($lines as $line) {
                yield self::sample($metric, $line->labels, (float) $line->values[0], null);
            }
        }
        yield "# EOF\n";
    }

    /**
     * @return iterable<ExportedSeries>
     *
     * @throws TooMuchToRead
     * @throws DamagedBlock
     */
    private function raw(Select $what, int $fromMs, int $toMs): iterable
    {
        foreach ($this->readings->inParts($what, $fromMs - 1, $toMs, self::READINGS_A_PART) as $window) {
            yield new ExportedSeries($window->labels, ...self::present($window->times, $window->values));
        }
    }

    /**
     * @return list<ExportedSeries>
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function workedOut(Node $formula, int $fromMs, int $toMs, int $stepMs): array
    {
        $series = [];
        $first = (intdiv($fromMs - 1, $stepMs) + 1) * $stepMs;
        foreach ($this->evaluator->range($formula, $first, $toMs, $stepMs)->lines as $line) {
            $series[] = new ExportedSeries(
                $line->labels,
                ...self::present(range($first, $first + (count($line->values) - 1) * $stepMs, $stepMs), $line->values),
            );
        }

        return $series;
    }

    /**
     * @param array<IndexedSeries|ExportedSeries> $series
     *
     * @return list<string> of all labels that any of them has
     */
    private static function names(array $series): array
    {
        $names = [];
        foreach ($series as $one) {
            $names += $one->labels->labels;
        }
        $names = array_map(strval(...), array_keys($names));
        sort($names);

        return $names;
    }

    /**
     * @param list<int>        $times
     * @param list<float|null> $values
     *
     * @return array{list<int>, list<float>}
     */
    private static function present(array $times, array $values): array
    {
        $kept = [[], []];
        foreach ($values as $i => $value) {
            if ($value !== null) {
                $kept[0][] = $times[$i];
                $kept[1][] = $value;
            }
        }

        return $kept;
    }

    /**
     * @param list<string>             $names
     * @param iterable<ExportedSeries> $series
     *
     * @return iterable<string>
     */
    private static function csv(string $metric, array $names, iterable $series): iterable
    {
        yield self::csvRow([...self::COLUMNS, ...array_map(self::column(...), $names)]);
        foreach ($series as $one) {
            $tail = array_map(static fn(string $name): string => CsvCell::of($one->labels->get($name)), $names);
            $rows = '';
            foreach ($one->times as $i => $at) {
                $rows .= self::csvRow([self::time($at), $metric, self::number($one->values[$i]), ...$tail]);
                if (strlen($rows) > 60_000) {
                    yield $rows;
                    $rows = '';
                }
            }
            yield $rows;
        }
    }

    /** A label that is named as one of the columns of every file stands in backquotes, as in a formula. */
    private static function column(string $label): string
    {
        return in_array($label, self::COLUMNS, true) ? "`{$label}`" : $label;
    }

    /** The label of a column beside those of every file. */
    public static function label(string $column): string
    {
        return preg_match('~^`(.+)`$~Ds', $column, $part) === 1 && in_array($part[1], self::COLUMNS, true) ? $part[1] : $column;
    }

    /** @param list<string> $fields */
    private static function csvRow(array $fields): string
    {
        foreach ($fields as $i => $field) {
            if (strpbrk($field, "\",\r\n") !== false) {
                $fields[$i] = '"' . str_replace('"', '""', $field) . '"';
            }
        }

        return implode(',', $fields) . "\r\n";
    }

    /**
     * @param iterable<ExportedSeries> $series
     *
     * @return iterable<string>
     */
    private static function jsonLines(string $metric, iterable $series): iterable
    {
        foreach ($series as $one) {
            yield json_encode(
                [
                    'metric' => $metric,
                    'labels' => (object) $one->labels->labels,
                    'times' => $one->times,
                    'values' => array_map(
                        static fn(float $value): float|string => is_finite($value) ? $value : self::number($value),
                        $one->values,
                    ),
                ],
                JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION,
            ) . "\n";
        }
    }

    /**
     * @param iterable<ExportedSeries> $series
     *
     * @return iterable<string>
     */
    private function openMetrics(string $metric, iterable $series): iterable
    {
        yield $this->head($metric);
        foreach ($series as $one) {
            $text = '';
            foreach ($one->times as $i => $at) {
                $text .= self::sample($metric, $one->labels, $one->values[$i], $at);
                if (strlen($text) > 60_000) {
                    yield $text;
                    $text = '';
                }
            }
            yield $text;
        }
        yield "# EOF\n";
    }

    /**
     * A metric goes out under its own name, so a type is told where a sample of it may bear that name; the parts of
     * histograms and summaries go out one by one, as what they are is not known without the others.
     */
    private function head(string $metric): string
    {
        $about = $this->catalogue->about($metric) ?? ['type' => MetricType::Unknown, 'unit' => '', 'help' => ''];
        [$family, $type] = match (true) {
            str_ends_with($metric, '_total') => [substr($metric, 0, -strlen('_total')), MetricType::Counter],
            $about['type'] === MetricType::Gauge => [$metric, MetricType::Gauge],
            default => [$metric, MetricType::Unknown],
        };

        // A unit that the name does not end with would make the text one that others refuse.
        return TextWriter::head(
            $family,
            $type,
            str_ends_with($family, "_{$about['unit']}") ? $about['unit'] : '',
            $about['help'],
        );
    }

    private static function sample(string $metric, LabelSet $labels, float $value, ?int $atMs): string
    {
        return $metric .
            ($labels->labels === [] ? '' : "{{$labels->key()}}") .
            ' ' .
            self::number($value) .
            ($atMs === null ? '' : sprintf(' %d.%03d', intdiv($atMs, 1000), $atMs % 1000)) .
            "\n";
    }

    private static function number(float $value): string
    {
        return match (true) {
            is_nan($value) => 'NaN',
            is_infinite($value) => $value > 0 ? '+Inf' : '-Inf',
            default => (string) json_encode($value),
        };
    }

    private static function time(int $atMs): string
    {
        return gmdate('Y-m-d\TH:i:s', intdiv($atMs, 1000)) . sprintf('.%03dZ', $atMs % 1000);
    }
}

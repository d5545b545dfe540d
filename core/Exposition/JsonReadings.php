<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/**
 * Readings as JSON, for programs that have no other way to say them; they become OpenMetrics text, and are read as that.
 *
 * `{"rows_copied": 1200, "copied_bytes": [{"value": 3e9, "labels": {"disk": "a"}, "unit": "bytes", "help": "…"}]}`. A name that ends in
 * `_total` is a counter's, every other a gauge's.
 */
final class JsonReadings
{
    private const DEPTH = 5;
    private const NAME = '~^[a-zA-Z_:][a-zA-Z0-9_:]*$~D';
    private const LABEL = '~^[a-zA-Z_][a-zA-Z0-9_]*$~D';
    private const FIELDS = ['value', 'labels', 'unit', 'help'];

    /** @throws BadReading naming what cannot be so */
    public static function text(string $json): string
    {
        $written = json_decode($json, true, self::DEPTH);
        if (!is_array($written) || $written === [] || array_is_list($written)) {
            throw new BadReading('the body', 'must be an object of names and values, such as {"rows_copied": 1200}');
        }
        $writer = new TextWriter();
        foreach ($written as $name => $value) {
            self::add($writer, (string) $name, $value);
        }

        return $writer->text();
    }

    /** @throws BadReading */
    private static function add(TextWriter $writer, string $name, mixed $written): void
    {
        if (preg_match(self::NAME, $name) !== 1) {
            throw new BadReading($name, 'is no name of a metric: letters, digits and _ alone, and no digit first');
        }
        $entries = is_array($written) && array_is_list($written) ? $written : [$written];
        if ($entries === []) {
            throw new BadReading($name, 'holds no value');
        }
        $samples = [];
        $unit = $help = '';
        foreach ($entries as $place => $entry) {
            $where = $entries === $written ? "{$name}[{$place}]" : $name;
            $entry = is_array($entry) ? $entry : ['value' => $entry];
            $unknown = array_diff(array_map(strval(...), array_keys($entry)), self::FIELDS);
            if ($unknown !== []) {
                throw new BadReading($where, 'holds ' . implode(', ', $unknown) . '; there are ' . implode(', ', self::FIELDS));
            }
            $samples[] = [self::labels($where, $entry['labels'] ?? []), self::value($where, $entry['value'] ?? null)];
            $unit = self::words("{$where}.unit", $entry['unit'] ?? $unit);
            $help = self::words("{$where}.help", $entry['help'] ?? $help);
        }
        $isCounter = str_ends_with($name, '_total');
        $writer->family(
            $isCounter ? substr($name, 0, -strlen('_total')) : $name,
            $isCounter ? MetricType::Counter : MetricType::Gauge,
            $unit,
            $help,
            $samples,
        );
    }

    /** @throws BadReading */
    private static function value(string $where, mixed $value): int|float
    {
        return match (true) {
            is_int($value), is_float($value) => $value,
            is_bool($value) => (int) $value,
            default => throw new BadReading($where, 'must be a number, or {"value": number}'),
        };
    }

    /**
     * @return array<string, string>
     *
     * @throws BadReading
     */
    private static function labels(string $where, mixed $written): array
    {
        if (!is_array($written)) {
            throw new BadReading("{$where}.labels", 'must be an object of names and texts');
        }
        $labels = [];
        foreach ($written as $name => $value) {
            if (preg_match(self::LABEL, (string) $name) !== 1) {
                throw new BadReading("{$where}.labels.{$name}", 'is no name of a label: letters, digits and _ alone, and no digit first');
            }
            $labels[(string) $name] = self::words("{$where}.labels.{$name}", $value);
        }

        return $labels;
    }

    /** @throws BadReading */
    private static function words(string $where, mixed $value): string
    {
        return is_string($value) ? $value : throw new BadReading($where, 'must be text');
    }
}

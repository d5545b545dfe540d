<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** Writes OpenMetrics text 1.0, family by family. */
final class TextWriter
{
    public const CONTENT_TYPE = 'application/openmetrics-text; version=1.0.0; charset=utf-8';

    private string $text = '';

    /** @param list<array{array<string, string>, int|float}> $samples labels and value; counters get their `_total`, info its `_info` */
    public function family(string $name, MetricType $type, string $unit, string $help, array $samples): self
    {
        if ($samples === []) {
            return $this;
        }
        $this->text .= self::head($name, $type, $unit, $help);
        $suffix = match ($type) {
            MetricType::Counter => '_total',
            MetricType::Info => '_info',
            default => '',
        };
        foreach ($samples as [$labels, $value]) {
            $this->text .= $name . $suffix . self::labels($labels) . ' ' . self::number($value) . "\n";
        }

        return $this;
    }

    /** What stands before the samples of a family. */
    public static function head(string $name, MetricType $type, string $unit, string $help): string
    {
        return "# TYPE {$name} {$type->value}\n" .
            ($unit === '' ? '' : "# UNIT {$name} {$unit}\n") .
            ($help === '' ? '' : "# HELP {$name} " . addcslashes($help, "\\\n\"") . "\n");
    }

    public function text(): string
    {
        return $this->text . "# EOF\n";
    }

    /** @param array<string, string> $labels */
    private static function labels(array $labels): string
    {
        if ($labels === []) {
            return '';
        }
        $parts = [];
        foreach ($labels as $name => $value) {
            $parts[] = $name . '="' . addcslashes($value, "\\\"\n") . '"';
        }

        return '{' . implode(',', $parts) . '}';
    }

    private static function number(int|float $value): string
    {
        return match (true) {
            is_int($value) => (string) $value,
            is_nan($value) => 'NaN',
            $value === INF => '+Inf',
            $value === -INF => '-Inf',
            default => (string) json_encode($value),
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

/** One simulated thing that is scraped. */
final readonly class FleetTarget
{
    /**
     * @param array<string, string> $labels   what Olivine lays over its series
     * @param list<MetricFamily>    $families
     */
    public function __construct(
        public string $name,
        public int $intervalSeconds,
        public bool $speaksOpenMetrics,
        public array $labels,
        public array $families,
    ) {
    }

    public function text(int $second, Breaks $breaks): string
    {
        $text = '';
        foreach ($this->families as $family) {
            $name = $family->name;
            if ($this->speaksOpenMetrics) {
                $text .= "# TYPE {$name} {$family->type}\n";
                $text .= $family->unit === '' ? '' : "# UNIT {$name} {$family->unit}\n";
                $text .= "# HELP {$name} {$family->help}\n";
            } else {
                // The older form names a family as its samples are named.
                $called =
                    $name .
                    match ($family->type) {
                        'counter' => '_total',
                        'info' => '_info',
                        default => '',
                    };
                $type = in_array($family->type, ['counter', 'gauge', 'histogram', 'summary'], true) ? $family->type : 'untyped';
                $text .= "# HELP {$called} {$family->help}\n# TYPE {$called} {$type}\n";
            }
            foreach ($family->signals as $signal) {
                $text .=
                    $name .
                    $signal->suffix .
                    self::labelText($signal->labels) .
                    ' ' .
                    self::number(($signal->value)($second, $breaks)) .
                    "\n";
            }
        }

        return $text . ($this->speaksOpenMetrics ? "# EOF\n" : '');
    }

    public function contentType(): string
    {
        return $this->speaksOpenMetrics
            ? 'application/openmetrics-text; version=1.0.0; charset=utf-8'
            : 'text/plain; version=0.0.4; charset=utf-8';
    }

    /** @return list<Signal> in the order of the text */
    public function signals(): array
    {
        return array_merge(...array_map(static fn(MetricFamily $family): array => $family->signals, $this->families));
    }

    /** @param array<string, string> $labels */
    private static function labelText(array $labels): string
    {
        $parts = [];
        foreach ($labels as $name => $value) {
            $parts[] = "{$name}=\"" . addcslashes($value, "\\\"\n") . '"';
        }

        return $parts === [] ? '' : '{' . implode(',', $parts) . '}';
    }

    private static function number(float $value): string
    {
        return $value === INF ? '+Inf' : (string) json_encode($value);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

enum MetricType: string
{
    case Counter = 'counter';
    case Gauge = 'gauge';
    case Histogram = 'histogram';
    case GaugeHistogram = 'gaugehistogram';
    case Summary = 'summary';
    case Info = 'info';
    case StateSet = 'stateset';
    case Unknown = 'unknown';

    /** @return list<string> what a sample's name may add to the family's name */
    public function suffixes(Form $form): array
    {
        return match ($this) {
            self::Counter => $form === Form::OpenMetrics ? ['_total', '_created'] : [''],
            self::Histogram => ['_bucket', '_sum', '_count', '_created'],
            self::GaugeHistogram => ['_bucket', '_gsum', '_gcount'],
            self::Summary => ['', '_sum', '_count', '_created'],
            self::Info => ['_info'],
            default => [''],
        };
    }

    public static function inForm(string $word, Form $form): ?self
    {
        if ($form === Form::Plain004) {
            return match ($word) {
                'untyped' => self::Unknown,
                'counter', 'gauge', 'histogram', 'summary' => self::from($word),
                default => null,
            };
        }

        return self::tryFrom($word);
    }
}

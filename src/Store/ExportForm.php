<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** What exported readings are written as. */
enum ExportForm: string
{
    case Csv = 'csv';
    case JsonLines = 'jsonl';
    case OpenMetrics = 'openmetrics';

    public function contentType(): string
    {
        return match ($this) {
            self::Csv => 'text/csv; charset=utf-8; header=present',
            self::JsonLines => 'application/x-ndjson',
            self::OpenMetrics => 'application/openmetrics-text; version=1.0.0; charset=utf-8',
        };
    }

    public function extension(): string
    {
        return $this === self::OpenMetrics ? 'txt' : $this->value;
    }
}

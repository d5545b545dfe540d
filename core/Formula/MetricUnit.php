<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** The unit of a metric: what its UNIT line says, or what its name ends in. */
final class MetricUnit
{
    private const UNITS = [
        'seconds' => 'seconds', 'bytes' => 'bytes', 'ratio' => 'ratio', 'celsius' => '°C', 'volts' => 'V', 'percent' => '%',
    ];

    /** Buckets and counts of things have none. */
    public static function ofName(string $name, string $declared = ''): string
    {
        if (str_ends_with($name, '_bucket') || str_ends_with($name, '_count') || str_ends_with($name, '_info')) {
            return '';
        }
        $parts = explode('_', (string) preg_replace('~_(total|sum|gsum)$~', '', $name));

        return self::UNITS[end($parts)] ?? self::UNITS[$declared] ?? '';
    }
}

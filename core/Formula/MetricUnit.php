<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** The unit of a metric: what its UNIT line says, or what its name ends in. */
final class MetricUnit
{
    private const UNITS = [
        'seconds' => 'seconds',
        'bytes' => 'bytes',
        'ratio' => 'ratio',
        'celsius' => '°C',
        'volts' => 'V',
        'percent' => '%',
    ];

    /** Buckets and counts of things have none. */
    public static function ofName(string $name, string $declared = ''): string
    {
        if (str_ends_with($name, '_bucket') || str_ends_with($name, '_count') || str_ends_with($name, '_info')) {
            return '';
        }
        // The word nearest to the end decides, also where others stand behind it: network_bytes_in_total.
        foreach (array_reverse(explode('_', $name)) as $word) {
            if (isset(self::UNITS[$word])) {
                return self::UNITS[$word];
            }
        }

        return self::UNITS[$declared] ?? '';
    }
}

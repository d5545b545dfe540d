<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

use Olivine\Core\Time\Duration;

/** A value in words, in the unit a person reads: `1.2 GiB`, `71 %`, `340 ms`, `1,284`. */
final class Quantity
{
    private const BINARY = ['B', 'KiB', 'MiB', 'GiB', 'TiB', 'PiB'];

    public static function words(float $value, string $unit): string
    {
        if (!is_finite($value)) {
            return is_nan($value) ? 'no number' : ($value > 0 ? 'infinity' : '-infinity');
        }

        return match (true) {
            $unit === 'bytes' => self::bytes($value),
            $unit === 'bytes per second' => self::bytes($value) . '/s',
            $unit === 'seconds' => self::seconds($value),
            $unit === 'ratio' => self::plain($value * 100) . ' %',
            $unit === 'per second' => self::plain($value) . '/s',
            str_ends_with($unit, ' per second') => self::plain($value) . ' ' . substr($unit, 0, -11) . '/s',
            $unit === '' => self::plain($value),
            default => self::plain($value) . ' ' . $unit,
        };
    }

    private static function bytes(float $value): string
    {
        $power = 0;
        while (abs($value) >= 1024 && $power < count(self::BINARY) - 1) {
            $value /= 1024;
            ++$power;
        }

        return self::plain($value) . ' ' . self::BINARY[$power];
    }

    private static function seconds(float $value): string
    {
        return match (true) {
            abs($value) < 1 => self::plain($value * 1000) . ' ms',
            abs($value) < 120 => self::plain($value) . ' s',
            default => ($value < 0 ? '-' : '') . Duration::ofMs((int) round(abs($value) * 1000))->words(),
        };
    }

    private static function plain(float $value): string
    {
        $size = abs($value);
        $digits = match (true) {
            $size >= 100 || $size === floor($size) => 0,
            $size >= 10 => 1,
            $size >= 1 => 2,
            default => 3,
        };
        $text = number_format($value, $digits, '.', ',');

        return str_contains($text, '.') ? rtrim(rtrim($text, '0'), '.') : $text;
    }
}

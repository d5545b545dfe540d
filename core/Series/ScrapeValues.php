<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * The values of one page in one scrape: eight little-endian bytes a slot. Two slots' worth of bits say that
 * there is no value; both are NaNs that no exposition text can produce, since a parsed NaN is always the
 * quiet one of the processor.
 */
final class ScrapeValues
{
    /** The series was not in a scrape that succeeded: it ended here. */
    public const ABSENT = "\x01\x4F\x4C\x56\x00\x00\xFC\x7F";

    /** Nothing is said of the series at this time: readings with times of their own seldom come all at once. */
    public const SILENT = "\x02\x4F\x4C\x56\x00\x00\xFC\x7F";

    /** @param list<float|numeric-string> $values */
    public static function pack(array $values): string
    {
        return pack('e*', ...$values);
    }

    /** @return list<float> */
    public static function unpack(string $bytes): array
    {
        /** @var array<int, float> $values */
        $values = unpack('e*', $bytes);

        return array_values($values);
    }

    /** The absent mark as a float; PHP keeps its bits through pack('e') and unpack('e'). */
    public static function absent(): float
    {
        return self::unpack(self::ABSENT)[0];
    }

    public static function silent(): float
    {
        return self::unpack(self::SILENT)[0];
    }

    public static function isSilent(float $value): bool
    {
        return is_nan($value) && pack('e', $value) === self::SILENT;
    }

    /**
     * Two rows of the same page and time made one. What was there first stays: the same reading twice counts
     * once, and an end gives way to a reading.
     */
    public static function merge(string $first, string $second): string
    {
        $slots = max(strlen($first), strlen($second));
        $first = str_pad($first, $slots, self::SILENT);
        $second = str_pad($second, $slots, self::SILENT);
        for ($at = 0; $at < $slots; $at += 8) {
            $new = substr($second, $at, 8);
            if (self::givesWay(substr($first, $at, 8), $new)) {
                $first = substr_replace($first, $new, $at, 8);
            }
        }

        return $first;
    }

    /** @return string what the second says that the first does not, silent where it says the same or less; "" where that is nothing */
    public static function news(string $first, string $second): string
    {
        $new = '';
        $isAny = false;
        for ($at = 0, $size = strlen($second); $at < $size; $at += 8) {
            $value = substr($second, $at, 8);
            $there = $at < strlen($first) ? substr($first, $at, 8) : self::SILENT;
            $isNew = $value !== self::SILENT && self::givesWay($there, $value);
            $new .= $isNew ? $value : self::SILENT;
            $isAny = $isAny || $isNew;
        }

        return $isAny ? $new : '';
    }

    /** Whether what is there, as eight bytes, says less than what comes. */
    public static function givesWay(string $there, string $new): bool
    {
        return $there === self::SILENT || ($there === self::ABSENT && $new !== self::SILENT);
    }

    /**
     * One series' column of values, freed of its marks.
     *
     * @param list<int>   $times
     * @param list<float> $values one for each time
     *
     * @return array{list<int>, list<float|null>} silent places taken out, ends as null
     */
    public static function readColumn(array $times, array $values): array
    {
        $keptTimes = [];
        $kept = [];
        foreach ($values as $i => $value) {
            if (is_nan($value)) {
                $bits = pack('e', $value);
                if ($bits === self::SILENT) {
                    continue;
                }
                if ($bits === self::ABSENT) {
                    $value = null;
                }
            }
            $keptTimes[] = $times[$i];
            $kept[] = $value;
        }

        return [$keptTimes, $kept];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/**
 * Text in a cell of CSV. A spreadsheet runs what begins with `=`, `+`, `-` or `@`: such text goes out behind an apostrophe,
 * which a spreadsheet takes for the sign of text, and comes back without it. What begins with an apostrophe gets one more.
 */
final class CsvCell
{
    private const RUN = "=+-@\t\r'";

    public static function of(string $text): string
    {
        return $text !== '' && str_contains(self::RUN, $text[0]) ? "'{$text}" : $text;
    }

    public static function text(string $cell): string
    {
        return strlen($cell) > 1 && $cell[0] === "'" && str_contains(self::RUN, $cell[1]) ? substr($cell, 1) : $cell;
    }
}

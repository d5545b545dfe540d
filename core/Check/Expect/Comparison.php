<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** How a value that was found stands to what is expected of it. */
enum Comparison: string
{
    case Equal = '=';
    case Unequal = '!=';
    case Below = '<';
    case AtMost = '<=';
    case Above = '>';
    case AtLeast = '>=';
    case Has = 'has';
    case Starts = 'starts';
    case IsThere = 'is there';

    /** A number is expected: texts that are one count too, as "42" does. Anything else is compared as a text. */
    public function holds(string|float|bool|null $found, string|float $expected): bool
    {
        if ($this === self::IsThere) {
            return true;
        }
        if (is_float($expected) && $this->isOfNumbers()) {
            $number = self::number($found);

            return $number === null ? $this === self::Unequal : $this->holdsFor($number <=> $expected);
        }
        [$found, $expected] = [self::text($found), self::text($expected)];

        return match ($this) {
            self::Has => str_contains($found, $expected),
            self::Starts => str_starts_with($found, $expected),
            default => $this->holdsFor(strcmp($found, $expected)),
        };
    }

    public static function number(string|float|bool|null $found): ?float
    {
        return match (true) {
            is_float($found) => $found,
            is_bool($found) => $found ? 1.0 : 0.0,
            is_string($found) && is_numeric(trim($found)) => (float) trim($found),
            default => null,
        };
    }

    public static function text(string|float|bool|null $found): string
    {
        return match (true) {
            is_bool($found) => $found ? 'true' : 'false',
            $found === null => 'null',
            is_float($found) && floor($found) === $found && abs($found) < 1e15 => sprintf('%d', (int) $found),
            default => trim((string) $found),
        };
    }

    private function isOfNumbers(): bool
    {
        return $this !== self::Has && $this !== self::Starts;
    }

    private function holdsFor(int $order): bool
    {
        return match ($this) {
            self::Equal => $order === 0,
            self::Unequal => $order !== 0,
            self::Below => $order < 0,
            self::AtMost => $order <= 0,
            self::Above => $order > 0,
            self::AtLeast => $order >= 0,
            self::Has, self::Starts, self::IsThere => false,
        };
    }
}

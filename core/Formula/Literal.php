<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Unit;

/** Numbers with units: `1h30m`, `2GiB`, `80%`, `10k`. */
final class Literal
{
    private const SECONDS = ['ms' => 0.001, 's' => 1.0, 'm' => 60.0, 'h' => 3600.0, 'd' => 86400.0, 'w' => 604800.0];
    private const BYTES = [
        'B' => 1.0,
        'kB' => 1e3,
        'MB' => 1e6,
        'GB' => 1e9,
        'TB' => 1e12,
        'KiB' => 1024.0,
        'MiB' => 1048576.0,
        'GiB' => 1073741824.0,
        'TiB' => 1099511627776.0,
    ];
    private const FACTORS = ['k' => 1e3, 'M' => 1e6, 'G' => 1e9];

    /** @throws FormulaError where the unit is unknown */
    public static function read(Token $token): Number
    {
        $text = $token->text;
        if (preg_match('~^([\d.]+(?:[eE][+-]?\d+)?)([a-zA-Z%]*)$~D', $text, $part) === 1) {
            $value = (float) $part[1];
            $unit = $part[2];

            return match (true) {
                $unit === '' => new Number($token->place, $value, null, $text),
                $unit === '%' => new Number($token->place, self::hundredth($part[1]), Unit::Ratio, $text),
                isset(self::SECONDS[$unit]) => new Number($token->place, $value * self::SECONDS[$unit], Unit::Seconds, $text),
                isset(self::BYTES[$unit]) => new Number($token->place, $value * self::BYTES[$unit], Unit::Bytes, $text),
                isset(self::FACTORS[$unit]) => new Number($token->place, $value * self::FACTORS[$unit], null, $text),
                default => throw new FormulaError(
                    $token->place,
                    "{$unit} is no unit",
                    Nearest::to($unit, [...array_keys(self::SECONDS), ...array_keys(self::BYTES), ...array_keys(self::FACTORS)]),
                ),
            };
        }
        if (preg_match('~^(?:\d+(?:w|d|h|ms|m|s))+$~D', $text) === 1) {
            preg_match_all('~(\d+)(w|d|h|ms|m|s)~', $text, $parts, PREG_SET_ORDER);
            $seconds = 0.0;
            foreach ($parts as $part) {
                $seconds += (float) $part[1] * self::SECONDS[$part[2]];
            }

            return new Number($token->place, $seconds, Unit::Seconds, $text);
        }

        throw new FormulaError(
            new Place($token->place->offset, $token->place->length),
            "{$text} is no number; examples: 12.5, 5m, 1h30m, 400MB, 2GiB, 80%, 10k",
        );
    }

    /** Of what is written, not of the binary number next to it: 636.6 % is 6.366, while 636.6 / 100 is 6.3660000000000005. */
    private static function hundredth(string $written): float
    {
        [$digits, $exponent] = explode('e', strtolower($written)) + [1 => '0'];

        return (float) ($digits . 'e' . ((int) $exponent - 2));
    }
}

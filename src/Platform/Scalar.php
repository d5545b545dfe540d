<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Time\Instant;

/**
 * What comes without a type, as what it is known to be: a cell of the database, an option of a command. The driver gives text
 * or numbers, and null or false where there is none. `Scalar::int('812')` is 812, `Scalar::int(null)` is 0, `Scalar::text(3)` "3".
 */
final class Scalar
{
    /** @throws \UnexpectedValueException where it is a list or an object */
    public static function int(mixed $it): int
    {
        return is_int($it) ? $it : (int) self::scalar($it);
    }

    /** @throws \UnexpectedValueException where it is a list or an object */
    public static function float(mixed $it): float
    {
        return is_float($it) ? $it : (float) self::scalar($it);
    }

    /** @throws \UnexpectedValueException where it is a list or an object */
    public static function text(mixed $it): string
    {
        return is_string($it) ? $it : (string) self::scalar($it);
    }

    /** @throws \UnexpectedValueException where it is a list or an object */
    public static function instant(mixed $ms): Instant
    {
        return Instant::ofMs(self::int($ms));
    }

    /** @throws \UnexpectedValueException where it is a list or an object */
    public static function instantOrNull(mixed $ms): ?Instant
    {
        return $ms === null ? null : self::instant($ms);
    }

    /**
     * @template K of array-key
     *
     * @param array<K, mixed> $them
     *
     * @return array<K, int>
     */
    public static function ints(array $them): array
    {
        return array_map(self::int(...), $them);
    }

    private static function scalar(mixed $it): bool|float|int|string|null
    {
        return $it === null || is_scalar($it)
            ? $it
            : throw new \UnexpectedValueException(get_debug_type($it) . ' is neither a number nor text');
    }
}

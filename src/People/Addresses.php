<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Olivine\App\Platform\Problem;
use Symfony\Component\Mime\Address;

/** Mail addresses, as people sign in by and are written to: one spelling of each. */
final class Addresses
{
    public const EXAMPLE = 'ines@saltmarsh.example';
    private const LONGEST = 180;

    /** The same address, in the one spelling that counts. */
    public static function one(string $address): string
    {
        return mb_strtolower(trim($address));
    }

    /** @throws Problem where no mail could be sent to it */
    public static function checked(string $field, string $address): string
    {
        $address = self::one($address);

        return self::isOne($address)
            ? $address
            : throw Problem::field($field, "{$field} must be an address such as " . self::EXAMPLE);
    }

    public static function isOne(string $address): bool
    {
        if (strlen($address) > self::LONGEST || filter_var($address, FILTER_VALIDATE_EMAIL) === false) {
            return false;
        }
        try {
            new Address($address);

            return true;
        } catch (\Throwable) {
            return false;
        }
    }
}

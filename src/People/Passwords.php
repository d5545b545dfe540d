<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Olivine\App\Platform\Problem;

/** What a password must be. */
final class Passwords
{
    public const SHORTEST = 12;
    public const LONGEST = 200;

    /** @throws Problem */
    public static function checked(string $field, #[\SensitiveParameter] string $password): string
    {
        return self::isLongEnough($password)
            ? $password
            : throw Problem::field($field, sprintf('%s needs at least %d characters', $field, self::SHORTEST));
    }

    public static function isLongEnough(#[\SensitiveParameter] string $password): bool
    {
        return mb_strlen($password) >= self::SHORTEST;
    }
}

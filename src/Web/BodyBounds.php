<?php

declare(strict_types=1);

namespace Olivine\App\Web;

/** How long a body may be, bytes: what people and tools send, and more where more is brought. The web server refuses the rest. */
final class BodyBounds
{
    public const USUAL = 256_000;
    /** Addresses, and those that begin so. */
    public const LONGER = [
        '/api/import' => 66_000_000,
        '/api/pushed/' => 4_000_000,
        '/in/job/' => 1_000_000,
        '/in/station/' => 8_000_000,
    ];

    public static function of(string $path): int
    {
        foreach (self::LONGER as $address => $most) {
            if ($path === $address || (str_ends_with($address, '/') && str_starts_with($path, $address))) {
                return $most;
            }
        }

        return self::USUAL;
    }
}

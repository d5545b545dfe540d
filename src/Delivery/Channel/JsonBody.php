<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

/** What is handed over, as JSON: whatever the bytes of a label are. */
final readonly class JsonBody
{
    private const FLAGS = JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE;

    /** @param array<string, mixed> $said */
    public static function of(array $said): string
    {
        return json_encode($said, self::FLAGS);
    }
}

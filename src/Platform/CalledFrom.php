<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** Paths of files as somebody at a terminal gives them: from where they stand, which is not where the program runs. */
final class CalledFrom
{
    /** @return string `-` as standard input */
    public static function path(string $given): string
    {
        $folder = (string) getenv('OLIVINE_CALLED_FROM');

        return match (true) {
            $given === '-' => 'php://stdin',
            $folder === '' || str_starts_with($given, '/') => $given,
            default => "{$folder}/{$given}",
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** Two people edit the same: the one who saves later is told what the other changed, and nothing is lost of either. */
final class Versions
{
    /**
     * @param int|string|null $read the version that was read
     * @param object          $now  what is there, as it is shown, so that the page can lay both side by side
     *
     * @throws Problem 409 with what is there now
     */
    public static function hold(int|string|null $read, int|string $version, object $now): void
    {
        $read ?? throw Problem::field('version', 'version must be that of what was read');
        if ($read !== $version) {
            throw new Problem(409, 'Somebody changed this while you had it open', ['now' => $now]);
        }
    }

    /**
     * For what has no version of its own: the values that were read before stand in `was`.
     *
     * @param array<array-key, int> $was
     * @param array<string, int>    $before
     *
     * @throws Problem 409 with what is there now
     */
    public static function holdValues(array $was, array $before): void
    {
        foreach ($before as $name => $value) {
            if (($was[$name] ?? null) !== $value) {
                throw new Problem(409, 'Somebody changed this while you had it open', ['now' => $before]);
            }
        }
    }
}

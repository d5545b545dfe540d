<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** Two people edit the same: the one who saves later is told what the other changed, and nothing is lost of either. */
final class Versions
{
    /**
     * @param array<string, mixed> $now as it is shown, so that the page can lay both side by side
     *
     * @throws Problem 409 with what is there now
     */
    public static function hold(Input $input, int $version, array $now): void
    {
        if ($input->whole('version', 1, PHP_INT_MAX) !== $version) {
            throw new Problem(409, 'Somebody changed this while you had it open', ['now' => $now]);
        }
    }

    /**
     * For what has no version of its own: the values that were read before stand in `was`.
     *
     * @param array<string, int> $before
     *
     * @throws Problem 409 with what is there now
     */
    public static function holdValues(Input $input, array $before): void
    {
        $was = $input->part('was');
        foreach ($before as $name => $value) {
            if ($was->whole($name, 0, PHP_INT_MAX) !== $value) {
                throw new Problem(409, 'Somebody changed this while you had it open', ['now' => $before]);
            }
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Web;

/** The workers of the web as the machine sees them; asked from inside one of them. */
final readonly class Workers
{
    private const PAGE_BYTES = 4_096;

    /** What they and their master hold for themselves; what they share counts for none. */
    public static function memoryBytes(): int
    {
        $master = posix_getppid();
        $workers = preg_split(
            '~\s+~',
            (string) @file_get_contents("/proc/{$master}/task/{$master}/children"),
            -1,
            PREG_SPLIT_NO_EMPTY,
        );
        $pages = 0;
        foreach ([$master, ...$workers === false ? [] : $workers] as $pid) {
            $sizes = explode(' ', (string) @file_get_contents("/proc/{$pid}/statm"));
            $pages += max(0, (int) ($sizes[1] ?? 0) - (int) ($sizes[2] ?? 0));
        }

        return $pages * self::PAGE_BYTES;
    }
}

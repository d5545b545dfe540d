<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

/** How much of a processor a process took so far. */
final class ProcessorTime
{
    /** @return float seconds */
    public static function of(int $pid): float
    {
        $fields = explode(' ', (string) preg_replace('~^.*\) ~s', '', (string) file_get_contents("/proc/{$pid}/stat")));

        return ((int) $fields[11] + (int) $fields[12]) / 100;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

/** The parts of the running instance, and the targets that a test broke. */
trait WatchedParts
{
    private function mended(string $target): void
    {
        foreach (['garbage', 'error', 'down', 'slow', 'queue'] as $kind) {
            Instance::fleet('/heal', $kind, $target);
        }
    }

    /** @return array<string, array{pid: int}> */
    private function parts(): array
    {
        $parts = json_decode((string) file_get_contents("{$_SERVER['OLIVINE_STATE_DIR']}/run/parts.json"), true);

        return is_array($parts) ? $parts : [];
    }

    private function alive(int $pid): bool
    {
        return $pid > 0 && is_dir("/proc/{$pid}");
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Olivine\App\Platform\Settings;

/** Sessions as PHP keeps them, one file each; one that was only read is touched, not written anew. */
final class FileSessions extends \SessionHandler implements \SessionUpdateTimestampHandlerInterface
{
    private readonly string $dir;

    public function __construct(Settings $settings)
    {
        $this->dir = "{$settings->stateDir}/sessions";
    }

    public function open(string $path, string $name): bool
    {
        return parent::open($this->dir, $name);
    }

    public function validateId(string $id): bool
    {
        return preg_match('~^[a-zA-Z0-9,-]{22,250}$~D', $id) === 1 && is_file($this->file($id));
    }

    public function updateTimestamp(string $id, string $data): bool
    {
        return touch($this->file($id));
    }

    private function file(string $id): string
    {
        return "{$this->dir}/sess_{$id}";
    }
}

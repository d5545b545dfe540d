<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Delivery\Ladder;

/** What an instance is told by its env file. */
final readonly class Settings
{
    public function __construct(
        public string $publicUrl,
        public string $mailFrom,
        public string $zone,
        public int $gatherSeconds,
        public int $secondRungSeconds,
        public string $stateDir,
        public string $projectDir,
    ) {
    }

    public function ladder(): Ladder
    {
        return new Ladder($this->gatherSeconds * 1000, $this->secondRungSeconds * 1000);
    }
}

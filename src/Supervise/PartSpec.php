<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

/** How one part is started, and how one sees that it is ready. */
final readonly class PartSpec
{
    /**
     * @param non-empty-list<string> $command
     * @param int|null               $readyPort it is ready when somebody listens here
     */
    public function __construct(
        public string $name,
        public array $command,
        public ?int $readyPort = null,
        public int $stopSignal = SIGTERM,
        public float $stopSeconds = 10.0,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

/** How one part is started, and how one sees that it is ready. */
final readonly class PartSpec
{
    /**
     * @param non-empty-list<string> $command
     * @param int|null               $readyPort it is ready when somebody listens here
     * @param string                 $user      the account it works under
     * @param string|null            $workDir   a folder of its own, that only its account may read
     * @param list<string>           $abilities of the machine's that its account keeps, such as net_raw to send pings
     */
    public function __construct(
        public string $name,
        public array $command,
        public ?int $readyPort = null,
        public int $stopSignal = SIGTERM,
        public float $stopSeconds = 10.0,
        public string $user = 'root',
        public ?string $workDir = null,
        public array $abilities = [],
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Series\LabelSet;

/** What is set of a job. */
final readonly class JobSettings
{
    /** @param string $schedule as a sentence says it: `daily at 02:30 Europe/Lisbon` */
    public function __construct(
        public int $id,
        public string $name,
        public string $schedule,
        public ?string $cron,
        public ?string $zone,
        public ?int $everySeconds,
        public int $graceSeconds,
        public ?int $longestSeconds,
        public int $mostAtOnce,
        public LabelSet $labels,
        public bool $paused,
        public int $version,
    ) {
    }
}

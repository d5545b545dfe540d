<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** What one was told, and whether it was worth it. */
final readonly class MyWaking
{
    /**
     * @param bool        $atNight between 22:00 and 06:00 on the clocks of the site
     * @param string|null $worth   useful or noise, where somebody said so
     */
    public function __construct(
        public int $incident,
        public string $title,
        public Instant $at,
        public string $severity,
        public bool $atNight,
        public string $way,
        public ?string $worth,
    ) {
    }
}

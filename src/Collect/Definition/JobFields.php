<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Definition\Field\Labels;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;

/** A job as a person writes it: when it is to run by a cron expression, or so long after it began last. */
final readonly class JobFields
{
    /**
     * @param string                $name
     * @param string|null           $cron           minute, hour, day of the month, month, day of the week: `30 2 * * *`
     * @param string|null           $zone           on whose clocks that is; null: those of the instance
     * @param int|null              $everySeconds   instead of cron
     * @param int                   $graceSeconds   so long it may be late
     * @param int|null              $longestSeconds so long it may take
     * @param int                   $mostAtOnce     so many of it may run at once
     * @param array<string, string> $labels
     * @param int|null              $version        what was read, to change it
     */
    public function __construct(
        #[Line(Target::NAME_LENGTH)]
        public string $name,
        #[Line(200)]
        public ?string $cron = null,
        #[Line(60)]
        public ?string $zone = null,
        #[Whole(60, 2_678_400)]
        public ?int $everySeconds = null,
        #[Whole(0, 604_800)]
        public int $graceSeconds = 300,
        #[Whole(1, 2_678_400)]
        public ?int $longestSeconds = null,
        #[Whole(1, 1_000)]
        public int $mostAtOnce = 1,
        #[Labels]
        public array $labels = [],
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\DailyTimes;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WeekHours;

/** A row of who else is told: each that matches an incident's alerts informs, and none ever wakes, climbs or is answered. */
final readonly class Copy
{
    /** Stands for a room or a program: whoever reads there. */
    public const NOBODY_IN_PARTICULAR = 0;

    /**
     * @param Filter|null     $for   null: everything
     * @param WeekHours|null  $hours null: always
     * @param list<Who>       $who   empty: whoever reads at these channels
     * @param list<string>    $by    channels; empty: as each person wishes
     * @param list<CopyTells> $tells
     * @param DailyTimes|null $at    told together at these times; null: at once
     */
    public function __construct(
        public string $name,
        public ?Filter $for,
        public ?WeekHours $hours,
        public array $who,
        public array $by,
        public array $tells,
        public ?DailyTimes $at = null,
    ) {
    }

    public function informsOf(LabelSet $about, Instant $at): bool
    {
        return ($this->for?->accepts($about) ?? true) && ($this->hours?->covers($at) ?? true);
    }
}

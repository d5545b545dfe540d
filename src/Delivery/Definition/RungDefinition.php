<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\LadderStep;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Time\Duration;

/** A rung: whom it tells, through which channels, and how long until the next one. */
final readonly class RungDefinition
{
    private const LONGEST = 7 * 86_400;

    /**
     * @param list<WhoDefinition> $who
     * @param list<string>        $by  channels, all at once; empty: as each person wishes
     */
    public function __construct(
        #[ListOf(WhoDefinition::class, 1, 10)]
        public array $who,
        #[Names(40)]
        public array $by = [],
        #[Whole(0, self::LONGEST)]
        public int $afterSeconds = 900,
    ) {
    }

    /** @throws Problem naming the field */
    public function core(): LadderStep
    {
        $who = array_map(static fn(WhoDefinition $one): Who => $one->core(), $this->who);

        return new LadderStep($who === [] ? throw Problem::field('who', 'who is missing') : $who, Duration::ofSeconds($this->afterSeconds), $this->by);
    }
}

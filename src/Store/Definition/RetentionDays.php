<?php

declare(strict_types=1);

namespace Olivine\App\Store\Definition;

use Olivine\App\Platform\Definition\Field\Numbers;
use Olivine\App\Platform\Definition\Field\Whole;

/** How many days each tier is kept; what is left out stays as it is. */
final readonly class RetentionDays
{
    public const MOST_DAYS = 3_660;

    /** @param array<array-key, int> $was the days that were read */
    public function __construct(
        #[Numbers]
        public array $was,
        #[Whole(1, self::MOST_DAYS)]
        public ?int $readings = null,
        #[Whole(1, self::MOST_DAYS)]
        public ?int $fiveMinutes = null,
        #[Whole(1, self::MOST_DAYS)]
        public ?int $hours = null,
    ) {
    }

    /**
     * @param array<string, int> $before
     *
     * @return array<string, int> the same with what was set laid over
     */
    public function over(array $before): array
    {
        /** @var array<string, int> $given */
        $given = array_filter(array_diff_key(get_object_vars($this), ['was' => 1]), is_int(...));

        return array_replace($before, $given);
    }
}

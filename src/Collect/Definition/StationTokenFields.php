<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Platform\Definition\Field\Ids;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;

/** What is to let stations join, as a person writes it. */
final readonly class StationTokenFields
{
    /**
     * @param string    $name
     * @param string    $names  a pattern that the names of the places fit, such as `pier-*`
     * @param list<int> $checks that are asked from whoever joins
     * @param int       $most   so many may join
     * @param int       $hours  until it lets nobody join any more
     */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[Line(80, 1)]
        public string $names = '*',
        #[Ids(500, 0)]
        public array $checks = [],
        #[Whole(1, 1_000)]
        public int $most = 1,
        #[Whole(1, 8_760)]
        public int $hours = 24,
    ) {
    }
}

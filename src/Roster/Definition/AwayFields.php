<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;

/** Somebody will be away. */
final readonly class AwayFields
{
    /**
     * @param int    $person who
     * @param string $from   2026-12-02 08:00 on the clocks of the zone
     * @param string $zone   "": that of the site
     */
    public function __construct(
        #[Whole(1, PHP_INT_MAX)]
        public int $person,
        #[Line(16, 16)]
        public string $from,
        #[Line(16, 16)]
        public string $to,
        #[Line(60)]
        public string $zone = '',
        #[Line(300)]
        public string $note = '',
    ) {
    }
}

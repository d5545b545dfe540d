<?php

declare(strict_types=1);

namespace Olivine\App\People\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Whole;

/** A token that somebody makes for another program. */
final readonly class TokenFields
{
    /**
     * @param list<string> $scopes areas that it may change: incidents, rules, delivery, fleet; none: it only reads
     * @param int          $days   until it ends
     */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[Names(20)]
        public array $scopes = [],
        #[Whole(1, 366)]
        public int $days = 90,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;

/** What is to be taken out of every ladder, copy and team, in the draft. */
final readonly class UseFields
{
    /** @param string $name the address of a person, the name of a team, a role or a channel */
    public function __construct(
        public UsedKind $kind,
        #[Line(180, 1)]
        public string $name,
    ) {
    }
}

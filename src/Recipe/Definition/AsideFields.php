<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Definition;

use Olivine\App\Platform\Definition\Field\Line;

/** Why a finding is left as it is. */
final readonly class AsideFields
{
    public function __construct(
        #[Line(300, 1)]
        public string $reason,
    ) {
    }
}

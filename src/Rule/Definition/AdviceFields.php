<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Text;

/** A formula of which somebody wants to know what is usual. */
final readonly class AdviceFields
{
    public function __construct(
        #[Text(8_000, 1)]
        public string $formula,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\People\Definition;

use Olivine\App\Platform\Definition\Field\Text;

/** vCards of people who are to be added. */
final readonly class CardFields
{
    public function __construct(
        #[Text(1_000_000, 1)]
        public string $text,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Roster\Entity\HandoverNote;

/** What whoever is on call tells whoever comes next. */
final readonly class HandoverFields
{
    /** @param int|null $version of the note that was read; null: there was none */
    public function __construct(
        #[Text(HandoverNote::LONGEST)]
        public string $text,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

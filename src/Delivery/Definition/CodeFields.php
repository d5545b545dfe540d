<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;

/** A code that was sent to a contact method, and where it was found. */
final readonly class CodeFields
{
    public function __construct(
        #[Line(12, 6)]
        public string $code,
        public Arrived $arrived = Arrived::Inbox,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Secret;

/** What is filled into requests under a name and shown to nobody; one whose value is not sent stays as it is. */
final readonly class SecretFields
{
    public function __construct(
        #[Line(40, 1)]
        public string $name,
        #[Secret(4_000)]
        public ?string $value = null,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Unfinished;
use Olivine\App\Platform\Definition\Field\Whole;

/** A rule on the way. */
final readonly class DraftFields
{
    /**
     * @param array<array-key, mixed> $definition as it stands in the form; it need not be whole
     * @param int|null                $rule       that it would change; null: it would be a new one
     * @param int|null                $version    what was read, to change it
     */
    public function __construct(
        #[Unfinished]
        public array $definition,
        public bool $enabled = true,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $rule = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

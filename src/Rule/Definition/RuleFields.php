<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;

/** A rule that a person puts into service or changes. */
final readonly class RuleFields
{
    /**
     * @param string   $reason   why it is changed
     * @param int|null $version  what was read, to change it
     * @param bool     $overFile it is changed here although it comes from a file
     */
    public function __construct(
        public RuleDefinition $definition,
        public bool $enabled = true,
        #[Line(300)]
        public string $reason = '',
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
        public bool $overFile = false,
    ) {
    }
}

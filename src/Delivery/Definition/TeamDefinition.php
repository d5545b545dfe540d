<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Names;

/** People who are told together, or own rules together. */
final readonly class TeamDefinition implements NamedDefinition
{
    /** @param list<string> $people their addresses */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[Names(180, 100)]
        public array $people = [],
    ) {
    }

    public function name(): string
    {
        return $this->name;
    }
}

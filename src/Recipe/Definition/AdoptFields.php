<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Definition;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Definition\Field\Ids;
use Olivine\App\Platform\Definition\Field\Labels;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\NamedTexts;

/** What somebody says who has a thing watched by a recipe. */
final readonly class AdoptFields
{
    /**
     * @param string                $name   as people call it; needed to have it watched, not to try it
     * @param array<string, string> $inputs what the recipe asks for, by name
     * @param array<string, string> $labels
     * @param list<int>             $places where a check is asked from
     */
    public function __construct(
        #[Line(Target::NAME_LENGTH)]
        public string $name = '',
        #[NamedTexts(2_000)]
        public array $inputs = [],
        #[Labels]
        public array $labels = [],
        #[Ids(200)]
        public array $places = [1],
    ) {
    }
}

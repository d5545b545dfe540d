<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

/** Something that whoever adopts a recipe must say. */
final readonly class RecipeInput
{
    /**
     * @param string|null $usual   what it is where nothing else is said; null: it must be said
     * @param bool        $isWhole whether it is a whole number, such as a port; of what is not, 200 stays a word
     */
    public function __construct(
        public string $label,
        public string $help,
        public ?string $usual,
        public bool $isSecret,
        public bool $isWhole,
    ) {
    }
}

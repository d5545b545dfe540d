<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

/** The shelf. */
final readonly class Recipes
{
    /**
     * @param list<Recipe> $recipes by name
     * @param list<string> $unread  what could not be read, with its place
     */
    public function __construct(public array $recipes, public array $unread)
    {
    }
}

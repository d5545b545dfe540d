<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

/** How things of a kind are watched: how they are asked, what they bring, which rules nearly everybody has for them. */
final readonly class Recipe
{
    /**
     * @param string                               $thing    of what: host, container, database …
     * @param list<string>                         $words    by which it is found beside its own
     * @param list<string>                         $needs    what must be so before it works
     * @param string                               $heavy    what it costs the thing that is watched; "" where nothing is asked
     * @param array<string, RecipeInput>           $inputs   what somebody must say, by its name
     * @param array<string, mixed>|null            $check    as a check is written, with {name} where something is filled in
     * @param array<string, mixed>|null            $target   as a target is written; null of both: it only brings rules
     * @param int                                  $seconds  how often it is asked
     * @param array<string, array{string, string}> $metrics  name → unit and help
     * @param list<RecipeRule>                     $rules
     * @param list<RecipeFinding>                  $findings known faults of such things
     */
    public function __construct(
        public string $key,
        public string $name,
        public string $thing,
        public string $about,
        public array $words,
        public array $needs,
        public string $heavy,
        public array $inputs,
        public ?array $check,
        public ?array $target,
        public int $seconds,
        public array $metrics,
        public array $rules,
        public array $findings,
    ) {
    }
}

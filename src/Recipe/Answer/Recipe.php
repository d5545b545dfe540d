<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

use Olivine\App\Recipe\Recipe as Held;
use Olivine\App\Recipe\RecipeInput;
use Olivine\App\Recipe\RecipeRule;

/** A recipe as it stands on the shelf. */
final readonly class Recipe
{
    /**
     * @param list<string>        $words
     * @param list<string>        $needs
     * @param string              $asks    the kind of a check, "metrics", or "" where it brings rules alone
     * @param list<AskedInput>    $inputs
     * @param list<BroughtMetric> $metrics
     * @param list<BroughtRule>   $rules
     * @param list<Adopted>       $used    what is watched by it
     */
    public function __construct(
        public string $key,
        public string $name,
        public string $thing,
        public string $about,
        public array $words,
        public array $needs,
        public string $heavy,
        public string $asks,
        public int $seconds,
        public array $inputs,
        public array $metrics,
        public array $rules,
        public array $used,
    ) {
    }

    /** @param list<Adopted> $used */
    public static function of(Held $recipe, array $used): self
    {
        $kind = $recipe->check['kind'] ?? null;

        return new self(
            $recipe->key,
            $recipe->name,
            $recipe->thing,
            $recipe->about,
            $recipe->words,
            $recipe->needs,
            $recipe->heavy,
            is_string($kind) ? $kind : ($recipe->target === null ? '' : 'metrics'),
            $recipe->seconds,
            array_map(
                static fn(string $name, RecipeInput $one): AskedInput => new AskedInput($name, $one->label, $one->help, $one->usual, $one->isSecret),
                array_keys($recipe->inputs),
                array_values($recipe->inputs),
            ),
            array_map(
                static fn(string $name, array $about): BroughtMetric => new BroughtMetric($name, $about[0], $about[1]),
                array_map(strval(...), array_keys($recipe->metrics)),
                array_values($recipe->metrics),
            ),
            array_map(static fn(RecipeRule $one): BroughtRule => new BroughtRule($one->key, $one->definition->name, $one->because), $recipe->rules),
            $used,
        );
    }
}

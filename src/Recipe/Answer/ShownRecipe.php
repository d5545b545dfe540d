<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

use Olivine\App\Recipe\Recipe;
use Olivine\App\Recipe\RecipeInput;
use Olivine\App\Recipe\RecipeRule;

/** A recipe as it stands on the shelf. */
final readonly class ShownRecipe
{
    public string $key;
    public string $name;
    public string $thing;
    public string $about;
    /** @var list<string> */
    public array $words;
    /** @var list<string> */
    public array $needs;
    public string $heavy;
    /** "check" (of which kind), "metrics", or "" where it brings rules alone. */
    public string $asks;
    public int $seconds;
    /** @var list<array{name: string, label: string, help: string, usual: string|null, isSecret: bool}> */
    public array $inputs;
    /** @var list<array{name: string, unit: string, help: string}> */
    public array $metrics;
    /** @var list<array{key: string, name: string, because: string}> */
    public array $rules;

    /** @param list<array{id: int, name: string, kind: string}> $used what is watched by it */
    public function __construct(Recipe $recipe, public array $used)
    {
        $this->key = $recipe->key;
        $this->name = $recipe->name;
        $this->thing = $recipe->thing;
        $this->about = $recipe->about;
        $this->words = $recipe->words;
        $this->needs = $recipe->needs;
        $this->heavy = $recipe->heavy;
        $this->seconds = $recipe->seconds;
        $kind = $recipe->check['kind'] ?? null;
        $this->asks = match (true) {
            is_string($kind) => $kind,
            $recipe->target !== null => 'metrics',
            default => '',
        };
        $this->inputs = array_map(
            static fn(string $name, RecipeInput $one): array => [
                'name' => $name,
                'label' => $one->label,
                'help' => $one->help,
                'usual' => $one->usual,
                'isSecret' => $one->isSecret,
            ],
            array_keys($recipe->inputs),
            array_values($recipe->inputs),
        );
        $this->metrics = array_map(
            static fn(string $name, array $about): array => ['name' => $name, 'unit' => $about[0], 'help' => $about[1]],
            array_map(strval(...), array_keys($recipe->metrics)),
            array_values($recipe->metrics),
        );
        $this->rules = array_map(
            static fn(RecipeRule $rule): array => ['key' => $rule->key, 'name' => $rule->definition->name, 'because' => $rule->because],
            $recipe->rules,
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\App\Files\Kinds;
use Olivine\App\Files\YamlFile;
use Olivine\App\Rule\Definition\ThresholdFields;
use Olivine\App\Rule\Files\RuleFileReader;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Parser;

/** Reads recipes out of files; what is wrong in one is told with its place, and the others are read all the same. */
final readonly class RecipeReader
{
    private const KEYS = ['name', 'thing', 'about', 'words', 'needs', 'heavy', 'inputs', 'check', 'target', 'every', 'metrics', 'rules', 'findings'];
    private const RULE_KEYS = ['because', 'history'];
    private const KEY = '~^[a-z0-9][a-z0-9-]{0,59}$~D';
    private const USUAL_SECONDS = 15;

    public function __construct(private RuleFileReader $rules)
    {
    }

    /** @return list<Recipe> those that are without fault */
    public function read(YamlFile $file): array
    {
        $recipes = [];
        foreach ($file->things(Kinds::RECIPES) as $key => $written) {
            $before = count($file->faults());
            $recipe = $this->recipe($file, (string) $key, $written);
            if (count($file->faults()) === $before) {
                $recipes[] = $recipe;
            }
        }

        return $recipes;
    }

    private function recipe(YamlFile $file, string $key, mixed $written): Recipe
    {
        $path = [Kinds::RECIPES, $key];
        if (preg_match(self::KEY, $key) !== 1) {
            $file->fault($path, 'a key is small letters, digits and dashes, such as web-server');
        }
        $written = $file->map($path, $written);
        $file->refuseUnknown($path, $written, self::KEYS);
        foreach (['name', 'thing', 'about'] as $needed) {
            if (self::text($written[$needed] ?? '') === '') {
                $file->fault([...$path, $needed], "a recipe needs {$needed}");
            }
        }
        if (isset($written['check'], $written['target'])) {
            $file->fault([...$path, 'check'], 'a recipe has a check or a target, not both');
        }
        $inputs = [];
        foreach ($file->map([...$path, 'inputs'], $written['inputs'] ?? []) as $name => $input) {
            $inputs[(string) $name] = self::input($file, [...$path, 'inputs', (string) $name], $input);
        }
        $check = isset($written['check']) ? $file->map([...$path, 'check'], $written['check']) : null;
        $target = isset($written['target']) ? $file->map([...$path, 'target'], $written['target']) : null;
        self::holdHoles($file, $path, $check ?? $target ?? [], $inputs);
        $rules = [];
        foreach ($file->map([...$path, 'rules'], $written['rules'] ?? []) as $name => $rule) {
            $rules[] = $this->rule($file, [...$path, 'rules', (string) $name], $rule, self::text($written['thing'] ?? ''));
        }

        return new Recipe(
            $key,
            self::text($written['name'] ?? ''),
            self::text($written['thing'] ?? ''),
            trim(self::text($written['about'] ?? '')),
            self::texts($file, [...$path, 'words'], $written['words'] ?? []),
            self::texts($file, [...$path, 'needs'], $written['needs'] ?? []),
            trim(self::text($written['heavy'] ?? '')),
            $inputs,
            self::named($check),
            self::named($target),
            isset($written['every']) ? self::seconds($file, [...$path, 'every'], $written['every']) : self::USUAL_SECONDS,
            self::metrics($file, [...$path, 'metrics'], $written['metrics'] ?? []),
            array_values(array_filter($rules, static fn(?RecipeRule $rule): bool => $rule !== null)),
            $this->findings($file, [...$path, 'findings'], $written['findings'] ?? []),
        );
    }

    /** @param list<string> $path */
    private static function input(YamlFile $file, array $path, mixed $written): RecipeInput
    {
        $written = $file->map($path, $written);
        $file->refuseUnknown($path, $written, ['label', 'help', 'usual', 'secret', 'whole']);
        if (preg_match('~^[a-z][a-z0-9_]{0,39}$~D', (string) end($path)) !== 1) {
            $file->fault($path, 'an input has a plain name such as host: small letters, digits and _');
        }

        return new RecipeInput(
            self::text($written['label'] ?? end($path)),
            self::text($written['help'] ?? ''),
            isset($written['usual']) ? self::text($written['usual']) : null,
            ($written['secret'] ?? false) === true,
            ($written['whole'] ?? false) === true,
        );
    }

    /**
     * Whatever is filled in must be asked for; a secret is never filled in, it goes along sealed.
     *
     * @param list<string>               $path
     * @param array<array-key, mixed>    $asked
     * @param array<string, RecipeInput> $inputs
     */
    private static function holdHoles(YamlFile $file, array $path, array $asked, array $inputs): void
    {
        preg_match_all(FilledIn::HOLE, (string) json_encode($asked, JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE), $holes);
        foreach (array_unique($holes[1]) as $hole) {
            $input = $inputs[$hole] ?? null;
            if ($input === null || $input->isSecret) {
                $file->fault([...$path, 'inputs'], $input === null ? "{{$hole}} is filled in and not asked for" : "the secret {$hole} is never filled in");
            }
        }
    }

    /** @param non-empty-list<string> $path */
    private function rule(YamlFile $file, array $path, mixed $written, string $thing): ?RecipeRule
    {
        $written = $file->map($path, $written);
        $name = self::text($written['name'] ?? '');
        if ($name === '' || self::text($written['because'] ?? '') === '') {
            $file->fault($path, 'a rule of a recipe needs name and because');
        }
        $rule = $this->rules->rule($file, $path, array_diff_key($written, array_flip(self::RULE_KEYS)), $name, []);

        $condition = $rule?->definition->condition;
        if (isset($written['history']) && $condition !== null && (!$condition instanceof ThresholdFields || $condition->limits[0]->limit === 0.0)) {
            $file->fault([...$path, 'history'], 'history moves a limit in proportion, so the rule needs one that is not 0');
        }

        return $rule === null ? null : new RecipeRule(
            $rule->key,
            $thing,
            $rule->definition,
            self::text($written['because'] ?? ''),
            isset($written['history']) ? self::history($file, [...$path, 'history'], $written['history']) : null,
        );
    }

    /**
     * @param list<string> $path
     *
     * @return list<RecipeFinding>
     */
    private function findings(YamlFile $file, array $path, mixed $written): array
    {
        $findings = [];
        foreach ($file->map($path, $written) as $key => $one) {
            $at = [...$path, (string) $key];
            $one = $file->map($at, $one);
            $file->refuseUnknown($at, $one, ['name', 'grade', 'watch', 'when', 'remedy']);
            $name = self::text($one['name'] ?? '');
            $grade = FindingGrade::tryFrom(self::text($one['grade'] ?? ''));
            if ($name === '' || self::text($one['remedy'] ?? '') === '') {
                $file->fault($at, 'a finding needs name and remedy');
            }
            if ($grade === null) {
                $file->fault([...$at, 'grade'], 'grade must be ' . implode(', ', array_column(FindingGrade::cases(), 'value')));
            }
            // It is written as what raises a rule is, and read by the same grammar.
            $rule = ['watch' => $one['watch'] ?? '', 'raise' => ['minor' => $one['when'] ?? '']];
            $condition = $this->rules->rule($file, $at, $rule, $name === '' ? (string) $key : $name, [])?->definition->condition;
            if ($condition instanceof ThresholdFields && !$condition->side->isRange() && $grade !== null) {
                $findings[] = new RecipeFinding(
                    (string) $key,
                    $name,
                    $grade,
                    self::text($one['watch'] ?? ''),
                    $condition->side,
                    $condition->limits[0]->limit,
                    trim(self::text($one['remedy'] ?? '')),
                );
            } elseif ($condition !== null) {
                $file->fault([...$at, 'when'], 'when is above or below a limit, such as below 1');
            }
        }

        return $findings;
    }

    /** @param list<string> $path */
    private static function history(YamlFile $file, array $path, mixed $written): LimitsOfHistory
    {
        $written = $file->map($path, $written);
        $file->refuseUnknown($path, $written, ['times', 'least', 'most']);
        $number = static function (string $key, float $usual) use ($file, $path, $written): float {
            $value = $written[$key] ?? $usual;
            if (!is_int($value) && !is_float($value)) {
                $file->fault([...$path, $key], "{$key} must be a number such as 1.5");

                return $usual;
            }

            return (float) $value;
        };

        return new LimitsOfHistory($number('times', 1.0), $number('least', -INF), $number('most', INF));
    }

    /**
     * @param list<string> $path
     *
     * @return array<string, array{string, string}>
     */
    private static function metrics(YamlFile $file, array $path, mixed $written): array
    {
        $metrics = [];
        foreach ($file->map($path, $written) as $name => $about) {
            $about = $file->map([...$path, (string) $name], $about);
            $file->refuseUnknown([...$path, (string) $name], $about, ['unit', 'help']);
            $metrics[(string) $name] = [self::text($about['unit'] ?? ''), self::text($about['help'] ?? '')];
        }

        return $metrics;
    }

    /** @param list<string> $path */
    private static function seconds(YamlFile $file, array $path, mixed $written): int
    {
        try {
            $number = Parser::parse(self::text($written));
        } catch (FormulaError) {
            $number = null;
        }
        if (!$number instanceof Number || $number->unit !== Unit::Seconds || $number->value < 5 || $number->value > 86_400) {
            $file->fault($path, 'every must be a duration from 5s to 1d');

            return self::USUAL_SECONDS;
        }

        return (int) $number->value;
    }

    /**
     * @param list<string> $path
     *
     * @return list<string>
     */
    private static function texts(YamlFile $file, array $path, mixed $written): array
    {
        if (!is_array($written) || !array_is_list($written) || !array_all($written, static fn(mixed $one): bool => is_scalar($one))) {
            $file->fault($path, implode(' of ', array_slice(array_reverse($path), 0, 2)) . ' must be a list of words');

            return [];
        }

        return array_map(self::text(...), $written);
    }

    /**
     * @param array<array-key, mixed>|null $written
     *
     * @return array<string, mixed>|null
     */
    private static function named(?array $written): ?array
    {
        return $written === null ? null : array_combine(array_map(strval(...), array_keys($written)), $written);
    }

    private static function text(mixed $value): string
    {
        return is_scalar($value) ? (string) $value : '';
    }
}

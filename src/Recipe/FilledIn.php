<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\App\Platform\Problem;

/** What a recipe asks, with what somebody said put where it belongs. */
final readonly class FilledIn
{
    public const HOLE = '~\{([a-z][a-z0-9_]{0,39})\}~';

    /**
     * @param array<string, string> $said by the names of the inputs
     *
     * @return array<string, string> with what is usual, where nothing was said
     *
     * @throws Problem naming the input
     */
    public static function inputs(Recipe $recipe, array $said): array
    {
        $inputs = [];
        foreach ($said as $name => $_) {
            isset($recipe->inputs[$name]) || throw Problem::field("inputs.{$name}", "{$recipe->name} asks for nothing of that name");
        }
        foreach ($recipe->inputs as $name => $input) {
            // A password may begin or end with a blank.
            $value = $input->isSecret ? $said[$name] ?? '' : trim($said[$name] ?? '');
            $value = $value === '' ? $input->usual ?? '' : $value;
            if ($value === '' && $input->usual === null && !$input->isSecret) {
                throw Problem::field("inputs.{$name}", "{$input->label} must be said");
            }
            $inputs[$name] = $value;
        }

        return $inputs;
    }

    /**
     * @param array<array-key, mixed> $written
     *
     * @return string|null the input that stands at this key, alone
     */
    public static function inputAt(array $written, string $key): ?string
    {
        foreach ($written as $name => $value) {
            $found = match (true) {
                is_array($value) => self::inputAt($value, $key),
                (string) $name === $key && is_string($value) && preg_match('~^\{([a-z][a-z0-9_]*)\}$~D', $value, $hole) === 1 => $hole[1],
                default => null,
            };
            if ($found !== null) {
                return $found;
            }
        }

        return null;
    }

    /**
     * @param array<string, string> $inputs
     *
     * @return mixed of the same shape; where a whole number stands alone, it is one
     */
    public static function of(Recipe $recipe, mixed $written, array $inputs): mixed
    {
        if (is_array($written)) {
            return array_map(static fn(mixed $one): mixed => self::of($recipe, $one, $inputs), $written);
        }
        if (!is_string($written)) {
            return $written;
        }
        $filled = (string) preg_replace_callback(self::HOLE, static fn(array $hole): string => $inputs[$hole[1]] ?? $hole[0], $written);
        $isWhole = preg_match('~^\{([a-z][a-z0-9_]*)\}$~D', $written, $hole) === 1 && ($recipe->inputs[$hole[1]]->isWhole ?? false);

        return $isWhole && preg_match('~^\d{1,9}$~D', $filled) === 1 ? (int) $filled : $filled;
    }
}

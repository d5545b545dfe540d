<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition;

use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Problem;
use Olivine\Core\Formula\Nearest;
use Symfony\Component\Serializer\Attribute\DiscriminatorMap;
use Symfony\Component\Serializer\Normalizer\DenormalizerInterface;
use Symfony\Component\Validator\Validator\ValidatorInterface;

/**
 * Reads what people wrote, in a request or in a file, into the readonly class that says what may stand there: its
 * constructor's parameters are the fields, and the attribute of each says what it must be. The first fault is told with its
 * field and the remedy. By example, `{"depth": "deep"}` for a class with `#[Whole(0, 99)] public int $depth`:
 * "depth must be a whole number from 0 to 99".
 */
final class Definitions
{
    private const LONGEST_SHOWN = 60;

    /** @var array<class-string, array<string, FieldOfDefinition>> */
    private array $fields = [];

    public function __construct(
        private readonly ValidatorInterface $validator,
        private readonly DenormalizerInterface $denormalizer,
    ) {
    }

    /**
     * @template T of object
     *
     * @param class-string<T>         $class
     * @param array<array-key, mixed> $written
     *
     * @return T
     *
     * @throws Problem naming the field
     */
    public function read(string $class, array $written): object
    {
        return $this->denormalizer->denormalize($this->checked($class, $written), $class);
    }

    /**
     * @param class-string            $class
     * @param array<array-key, mixed> $written
     *
     * @return array<string, mixed> what goes into the constructor
     *
     * @throws Problem
     */
    private function checked(string $class, array $written): array
    {
        $fields = $this->fields[$class] ??= FieldOfDefinition::allOf($class);
        self::refuseUnknown($written, array_keys($fields), is_a($class, ReadBack::class, true) ? $class::readBack() : []);
        $taken = [];
        foreach ($fields as $name => $field) {
            $value = $written[$name] ?? null;
            if ($value === null && $field->mayBeLeftOut) {
                continue;
            }
            $value = $field->rule?->taken($value) ?? $value;
            $fault = $field->rule === null ? null : $this->validator->validate($value, $field->rule);
            if ($fault !== null && count($fault) > 0) {
                throw Problem::field($name, str_replace('{field}', $name, (string) $fault->get(0)->getMessage()));
            }
            $taken[$name] = match (true) {
                $field->part === null => $value,
                $field->isList => $this->parts($field->part, $name, (array) $value),
                default => $this->part($field->part, $name, $value),
            };
        }

        return $taken;
    }

    /**
     * @param class-string $class
     *
     * @return array<string, mixed>
     *
     * @throws Problem
     */
    private function part(string $class, string $name, mixed $value): array
    {
        if (!is_array($value)) {
            throw Problem::field($name, "{$name} must be an object");
        }
        $kinds = self::kindsOf($class);
        if ($kinds === null) {
            return $this->checked($class, $value);
        }
        $kind = $value[$kinds->typeProperty] ?? null;
        $ofKind = is_string($kind) ? $kinds->mapping[$kind] ?? null : null;
        if ($ofKind === null) {
            $known = implode(', ', array_keys($kinds->mapping));
            throw Problem::field($kinds->typeProperty, "{$kinds->typeProperty} of {$name} must be one of {$known}");
        }

        return [$kinds->typeProperty => $kind] + $this->checked($ofKind, array_diff_key($value, [$kinds->typeProperty => 0]));
    }

    /**
     * @param class-string            $class
     * @param array<array-key, mixed> $values
     *
     * @return list<array<string, mixed>>
     *
     * @throws Problem
     */
    private function parts(string $class, string $name, array $values): array
    {
        $parts = [];
        foreach (array_values($values) as $i => $value) {
            $parts[] = $this->part($class, sprintf('%s, the %d. of them,', $name, $i + 1), $value);
        }

        return $parts;
    }

    /** @param class-string $class */
    private static function kindsOf(string $class): ?DiscriminatorMap
    {
        return interface_exists($class)
            ? ((new \ReflectionClass($class))->getAttributes(DiscriminatorMap::class)[0] ?? null)?->newInstance()
            : null;
    }

    /**
     * A field that is misspelt would be passed over without a word.
     *
     * @param array<array-key, mixed> $written
     * @param list<string>            $known
     * @param list<string>            $told    what is told beside these, and may come back as it was read
     *
     * @throws Problem
     */
    private static function refuseUnknown(array $written, array $known, array $told): void
    {
        foreach (array_diff(array_map(strval(...), array_keys($written)), $told, $known) as $field) {
            $near = Nearest::to($field, $known);
            $shown = trim($field) === '' ? '(without a name)' : mb_substr(OneLine::of($field), 0, self::LONGEST_SHOWN);
            $remedy = $near === null ? '; there are ' . implode(', ', $known) : "; did you mean {$near}?";

            throw Problem::field($shown, "There is no field {$shown} here{$remedy}");
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Formula\Nearest;
use Symfony\Component\HttpFoundation\Request;

/** The JSON a request brought; every getter names the field and what it must be. */
final readonly class Input
{
    /** @param array<array-key, mixed> $fields */
    private function __construct(private array $fields)
    {
    }

    public static function of(Request $request): self
    {
        try {
            $fields = json_decode($request->getContent() === '' ? '{}' : $request->getContent(), true, 16, JSON_THROW_ON_ERROR);
        } catch (\JsonException) {
            throw new Problem(400, 'The request is not valid JSON');
        }

        return new self(is_array($fields) ? $fields : throw new Problem(400, 'The request must be a JSON object'));
    }

    /**
     * A field that is misspelt would be passed over without a word.
     *
     * @param list<string> $known
     * @param list<string> $passes what is told beside these, and may come back as it was read
     *
     * @throws Problem naming it, and the known one it is nearly
     */
    public function onlyKnows(array $known, array $passes = []): self
    {
        foreach (array_diff(array_map(strval(...), array_keys($this->fields)), $passes) as $field) {
            if (!in_array($field, $known, true)) {
                $near = Nearest::to($field, $known);
                $shown = trim($field) === '' ? '(without a name)' : mb_substr(OneLine::of($field), 0, 60);

                throw Problem::field(
                    $shown,
                    "There is no field {$shown} here" .
                        ($near === null ? '; there are ' . implode(', ', $known) : "; did you mean {$near}?"),
                );
            }
        }

        return $this;
    }

    public function has(string $field): bool
    {
        return isset($this->fields[$field]);
    }

    public function text(string $field, int $longest, ?string $default = null, int $shortest = 0): string
    {
        return self::plain($field, $this->fields[$field] ?? $default, $longest, $shortest);
    }

    /** Text as people write it: UTF-8 without control characters, and without spaces around it. */
    public static function plain(string $field, mixed $value, int $longest, int $shortest): string
    {
        if (
            !is_string($value)
            || !mb_check_encoding($value, 'UTF-8')
            || preg_match('~[\x00-\x08\x0B\x0C\x0E-\x1F]~', $value) === 1
        ) {
            throw Problem::field($field, "{$field} must be a text");
        }
        $value = trim($value);
        $length = mb_strlen($value);
        if ($length > $longest || $length < $shortest) {
            throw Problem::field(
                $field,
                $length < $shortest
                    ? "{$field} is missing"
                    : "{$field} may have at most {$longest} characters; this has {$length}",
            );
        }

        return $value;
    }

    /** Text of one line: a name, an address. What breaks lines could forge them wherever it is written. */
    public function line(string $field, int $longest, ?string $default = null, int $shortest = 0): string
    {
        $text = $this->text($field, $longest, $default, $shortest);

        return OneLine::isOne($text) ? $text : throw Problem::field($field, "{$field} must be one line, without control signs");
    }

    /** An object inside, its fields named as in this one. */
    public function part(string $field): self
    {
        $value = $this->fields[$field] ?? null;

        return is_array($value) ? new self($value) : throw Problem::field($field, "{$field} must be an object");
    }

    /** Text that is taken as it is, spaces and all. */
    public function secret(string $field, int $longest): string
    {
        $value = $this->fields[$field] ?? '';

        return is_string($value) && strlen($value) <= $longest && !str_contains($value, "\0")
            ? $value
            : throw Problem::field($field, "{$field} must be a text of at most {$longest} bytes");
    }

    public function number(string $field): float
    {
        $value = $this->fields[$field] ?? null;

        return is_int($value) || is_float($value) ? (float) $value : throw Problem::field($field, "{$field} must be a number");
    }

    public function numberOrNull(string $field): ?float
    {
        return isset($this->fields[$field]) ? $this->number($field) : null;
    }

    public function whole(string $field, int $least, int $most, ?int $default = null): int
    {
        $value = $this->fields[$field] ?? $default;
        if (!is_int($value) || $value < $least || $value > $most) {
            throw Problem::field($field, "{$field} must be a whole number from {$least} to {$most}");
        }

        return $value;
    }

    /** @return non-empty-list<int> ids, each once */
    public function ids(string $field, int $most): array
    {
        $value = $this->fields[$field] ?? null;
        if (
            !is_array($value)
            || $value === []
            || count($value) > $most
            || array_filter($value, static fn(mixed $id): bool => !is_int($id) || $id < 1) !== []
        ) {
            throw Problem::field($field, "{$field} must be a list of 1 to {$most} ids");
        }

        return array_values(array_unique($value));
    }

    public function yes(string $field, bool $default): bool
    {
        $value = $this->fields[$field] ?? $default;

        return is_bool($value) ? $value : throw Problem::field($field, "{$field} must be true or false");
    }

    /**
     * @template T of \BackedEnum
     *
     * @param class-string<T> $enum
     *
     * @return T
     */
    public function oneOf(string $field, string $enum): \BackedEnum
    {
        $value = $this->fields[$field] ?? null;
        $case = is_string($value) ? $enum::tryFrom($value) : null;

        return $case ??
            throw Problem::field(
                $field,
                "{$field} must be one of " .
                    implode(', ', array_map(static fn(\BackedEnum $case): string => (string) $case->value, $enum::cases())),
            );
    }

    /**
     * @template T of \BackedEnum
     *
     * @param class-string<T> $enum
     *
     * @return T|null
     */
    public function oneOfOrNull(string $field, string $enum): ?\BackedEnum
    {
        return isset($this->fields[$field]) ? $this->oneOf($field, $enum) : null;
    }

    /** @return array<string, string> */
    public function labels(string $field): array
    {
        $value = $this->fields[$field] ?? [];
        if (!is_array($value) || count($value) > 20) {
            throw Problem::field($field, "{$field} must be an object of at most 20 texts");
        }
        $labels = [];
        foreach ($value as $name => $text) {
            if (
                !is_string($text)
                || strlen($text) > 200
                || !mb_check_encoding($text, 'UTF-8')
                || !OneLine::isOne($text)
                || preg_match('~^[a-zA-Z_]\w{0,99}$~D', (string) $name) !== 1
            ) {
                throw Problem::field($field, "label {$name} must have a plain name and one line of text of at most 200 bytes");
            }
            $labels[(string) $name] = $text;
        }

        return $labels;
    }
}

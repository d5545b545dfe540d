<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\Platform\Problem;
use Olivine\App\Setup\NamedSecrets;
use Olivine\Core\Formula\Nearest;

/** The secrets that a file names: what is signed with, and an address that holds one, `at: secret board-address`. */
final readonly class WrittenSecret
{
    private const ADDRESS = 'secret ';
    /** What looks like a key and not like a word. */
    private const KEY_IN_PATH = '~/(?=[^/]*\d)[\w-]{16,}(/|$)~';

    /**
     * @param array<string, string|int|float|bool> $written
     *
     * @return array{secret?: string} nothing where none is named: it stays as it is, or one is made up
     *
     * @throws Problem where none is set under that name
     */
    public static function of(array $written, NamedSecrets $secrets): array
    {
        $name = (string) $written['secret'];

        return $name === '' ? [] : ['secret' => self::opened($name, 'secret', $secrets)];
    }

    /**
     * @param array<string, string|int|float|bool> $written
     *
     * @throws Problem where none is set under the name that it says
     */
    public static function address(array $written, NamedSecrets $secrets): string
    {
        $at = trim((string) $written['at']);

        return str_starts_with($at, self::ADDRESS) ? self::opened(trim(substr($at, strlen(self::ADDRESS))), 'url', $secrets) : $at;
    }

    /** An address as a file says it. */
    public static function addressWords(string $url, NamedSecrets $secrets): string
    {
        $name = $secrets->nameOfText($url);

        return $name === '' ? $url : self::ADDRESS . $name;
    }

    /** Whether an address may hold a secret: who asks in it, what is asked for, or a key in its path. */
    public static function mayBe(string $address): bool
    {
        $parts = str_starts_with($address, self::ADDRESS) ? [] : parse_url($address);

        return !is_array($parts) || array_intersect_key($parts, ['user' => 1, 'pass' => 1, 'query' => 1]) !== []
            || preg_match(self::KEY_IN_PATH, $parts['path'] ?? '') === 1;
    }

    /** @throws Problem */
    private static function opened(string $name, string $field, NamedSecrets $secrets): string
    {
        $near = Nearest::to($name, $secrets->names());
        $remedy = $near === null ? "set it by bin/olivine secret set {$name}" : "did you mean {$near}?";

        return $secrets->open($name) ?? throw Problem::field($field, "{$field}: there is no secret {$name}; {$remedy}");
    }
}

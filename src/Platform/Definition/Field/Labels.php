<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

use Olivine\App\Platform\OneLine;

/** Labels that people lay over series: plain names, and one line of text each. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Labels extends FieldRule
{
    private const MOST = 20;
    private const LONGEST_BYTES = 200;

    public function fault(mixed $value): ?string
    {
        if (!is_array($value) || count($value) > self::MOST) {
            return '{field} must be an object of at most ' . self::MOST . ' texts';
        }
        foreach ($value as $name => $text) {
            if (!self::isLabel((string) $name, $text)) {
                $name = mb_substr(OneLine::of((string) $name), 0, 60);

                return "label {$name} must have a plain name and one line of text of at most " . self::LONGEST_BYTES . ' bytes';
            }
        }

        return null;
    }

    private static function isLabel(string $name, mixed $text): bool
    {
        return is_string($text)
            && strlen($text) <= self::LONGEST_BYTES
            && mb_check_encoding($text, 'UTF-8')
            && OneLine::isOne($text)
            && preg_match('~^[a-zA-Z_]\w{0,99}$~D', $name) === 1;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Texts by plain names that are told apart by whoever reads them. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class NamedTexts extends FieldRule
{
    private const MOST = 30;

    public function __construct(private readonly int $longest)
    {
        parent::__construct();
    }

    public function fault(mixed $value): ?string
    {
        if (!is_array($value) || count($value) > self::MOST) {
            return '{field} must be an object of at most ' . self::MOST . ' texts';
        }
        $text = new Text($this->longest);
        foreach ($value as $name => $one) {
            $isPlain = preg_match('~^[a-z][a-z0-9_]{0,39}$~D', (string) $name) === 1;
            $fault = $isPlain ? $text->fault($one) : '{field} must have a plain name: small letters, digits and _';
            if ($fault !== null) {
                return str_replace('{field}', "{field}.{$name}", $fault);
            }
        }

        return null;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Names of what is there: of labels, of rules; each once. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Names extends FieldRule
{
    public function __construct(private readonly int $longest, private readonly int $most = 10)
    {
        parent::__construct();
    }

    public function fault(mixed $value): ?string
    {
        $isList = is_array($value) && array_is_list($value) && count($value) <= $this->most;

        return $isList && $value === array_unique($value, SORT_REGULAR) && array_all($value, $this->isName(...))
            ? null
            : "{field} must be a list of at most {$this->most} names, each once";
    }

    private function isName(mixed $name): bool
    {
        return is_string($name) && $name !== '' && mb_check_encoding($name, 'UTF-8') && mb_strlen($name) <= $this->longest;
    }
}

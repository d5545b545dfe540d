<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Text as people write it: UTF-8 without control characters, and without blanks around it. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
class Text extends FieldRule
{
    /**
     * @param int $longest  characters
     * @param int $shortest 1: must not be empty
     */
    public function __construct(private readonly int $longest, private readonly int $shortest = 0)
    {
        parent::__construct();
    }

    public function taken(mixed $value): mixed
    {
        return is_string($value) ? trim($value) : $value;
    }

    public function fault(mixed $value): ?string
    {
        if (
            !is_string($value)
            || !mb_check_encoding($value, 'UTF-8')
            || preg_match('~[\x00-\x08\x0B\x0C\x0E-\x1F]~', $value) === 1
        ) {
            return '{field} must be a text';
        }
        $length = mb_strlen($value);

        return match (true) {
            $length < $this->shortest => '{field} is missing',
            $length > $this->longest => "{field} may have at most {$this->longest} characters; this has {$length}",
            default => null,
        };
    }
}

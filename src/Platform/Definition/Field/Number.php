<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Number extends FieldRule
{
    public function __construct(private readonly float $least = -INF, private readonly float $most = INF)
    {
        parent::__construct();
    }

    public function taken(mixed $value): mixed
    {
        return is_int($value) ? (float) $value : $value;
    }

    public function fault(mixed $value): ?string
    {
        return match (true) {
            !is_float($value) => '{field} must be a number',
            $value < $this->least || $value > $this->most => "{field} must be from {$this->least} to {$this->most}",
            default => null,
        };
    }
}

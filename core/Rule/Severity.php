<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** The scale of ITU-T X.733. */
enum Severity: string
{
    case Critical = 'critical';
    case Major = 'major';
    case Minor = 'minor';
    case Warning = 'warning';

    public function rank(): int
    {
        return match ($this) {
            self::Critical => 4,
            self::Major => 3,
            self::Minor => 2,
            self::Warning => 1,
        };
    }

    public function isWorseThan(?self $other): bool
    {
        return $other === null || $this->rank() > $other->rank();
    }
}

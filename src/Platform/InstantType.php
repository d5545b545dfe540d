<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Doctrine\DBAL\ParameterType;
use Doctrine\DBAL\Platforms\AbstractPlatform;
use Doctrine\DBAL\Types\Type;
use Olivine\Core\Time\Instant;

/** An instant in a column: whole milliseconds since 1970-01-01T00:00:00Z. */
final class InstantType extends Type
{
    public function getSQLDeclaration(array $column, AbstractPlatform $platform): string
    {
        return $platform->getBigIntTypeDeclarationSQL($column);
    }

    public function convertToPHPValue(mixed $value, AbstractPlatform $platform): ?Instant
    {
        return $value === null ? null : Scalar::instant($value);
    }

    public function convertToDatabaseValue(mixed $value, AbstractPlatform $platform): ?int
    {
        return $value instanceof Instant ? $value->ms : null;
    }

    public function getBindingType(): ParameterType
    {
        return ParameterType::INTEGER;
    }
}

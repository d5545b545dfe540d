<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

enum SqlEngine: string
{
    case MariaDb = 'mariadb';
    case PostgreSql = 'postgresql';

    public function port(): int
    {
        return $this === self::MariaDb ? 3306 : 5432;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Cache\QueryCacheProfile;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Result;

/** A connection whose questions somebody else gets between. */
final class Interrupted extends Connection
{
    /** @var (\Closure(string): void)|null */
    public ?\Closure $before = null;

    public function executeQuery(string $sql, array $params = [], array $types = [], ?QueryCacheProfile $qcp = null): Result
    {
        if ($this->before !== null) {
            ($this->before)($sql);
        }

        return parent::executeQuery($sql, $params, $types, $qcp);
    }
}

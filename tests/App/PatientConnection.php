<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\RetryableException;

/** The tests write beside running parts: where one of them was in the way, a statement by itself is tried again. */
final class PatientConnection extends Connection
{
    private const MOST_TRIES = 20;

    public function executeStatement(string $sql, array $params = [], array $types = []): int|string
    {
        for ($try = 1; ; ++$try) {
            try {
                return parent::executeStatement($sql, $params, $types);
            } catch (RetryableException $error) {
                if ($try === self::MOST_TRIES || $this->isTransactionActive()) {
                    throw $error;
                }
                usleep(random_int(10_000, 100_000));
            }
        }
    }
}

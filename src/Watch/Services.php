<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SlowAnswer;
use Olivine\Core\Time\Instant;

/** The services that targets work for. */
final readonly class Services implements SlowAnswer
{
    public const NAME = 'services';
    private const RENEW_EVERY_MS = 30_000;

    public function __construct(private Connection $connection)
    {
    }

    public function name(): string
    {
        return self::NAME;
    }

    public function renewEveryMs(): int
    {
        return self::RENEW_EVERY_MS;
    }

    /** @return list<string> */
    public function work(Instant $now): array
    {
        return array_map(
            Scalar::text(...),
            $this->connection->fetchFirstColumn(
                "SELECT DISTINCT JSON_VALUE(labels, '$.service') AS service FROM target
                 WHERE JSON_VALUE(labels, '$.service') IS NOT NULL AND removed_at IS NULL ORDER BY service",
            ),
        );
    }
}

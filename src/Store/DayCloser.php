<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;

/** Once a day is over and sealed to its end: its runs are joined page by page, then the partitions that end with it are packed tight. */
final class DayCloser
{
    private const CLOSED = 'settled_day';

    private int $page = 0;

    public function __construct(
        private readonly Connection $connection,
        private readonly Sealer $sealer,
        private readonly Partitions $partitions,
    ) {
    }

    /**
     * @phpstan-impure
     *
     * @return bool whether something was done, and more may be left to do
     */
    public function round(int $nowMs): bool
    {
        $day = $this->next($nowMs);
        if ($day === null) {
            return false;
        }
        $this->page = $this->sealer->joinDay($day, $this->page) ?? 0;
        if ($this->page === 0) {
            $this->partitions->packTight($day + Span::DAY_MS);
            $this->remember($day);
        }

        return true;
    }

    public function remember(int $dayMs): void
    {
        $this->connection->executeStatement(
            'INSERT INTO setting (name, value) VALUES (?, ?) ON DUPLICATE KEY UPDATE value = VALUES(value)',
            [self::CLOSED, $dayMs],
        );
    }

    private function next(int $nowMs): ?int
    {
        $yesterday = Span::dayOf($nowMs) - Span::DAY_MS;
        $closed = $this->connection->fetchOne('SELECT value FROM setting WHERE name = ?', [self::CLOSED]);
        $day = $closed === false ? $yesterday : Scalar::int($closed) + Span::DAY_MS;
        if ($day > $yesterday || !Sealer::isOver($day, $nowMs)) {
            return null;
        }
        $unsealed = $this->connection->fetchOne(
            'SELECT MIN(oldest) FROM (SELECT MIN(at) AS oldest FROM scrape_row GROUP BY page) AS pages',
        );

        return $unsealed !== null && $unsealed !== false && Scalar::int($unsealed) <= $day + Span::DAY_MS ? null : $day;
    }
}

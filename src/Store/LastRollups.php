<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Part;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Series\DamagedBlock;
use Psr\Log\LoggerInterface;
use Psr\Log\NullLogger;

/**
 * Rolls up what was read seldom just before its readings are let go: until then the readings themselves are as few.
 * What is damaged cannot be rolled up; the log says so, and the rest is not kept for ever because of it.
 */
final readonly class LastRollups
{
    private const RUNS_A_ROUND = 40;

    private SealedRuns $runs;

    public function __construct(
        private Database $database,
        private BlockWriter $blocks,
        private LoggerInterface $logger = new NullLogger(),
    ) {
        $this->runs = new SealedRuns($database->connection);
    }

    /** @return int how many runs before this instant were rolled up; 0 when none lacks its roll-ups */
    public function round(int $beforeMs): int
    {
        $lacking = $this->database->connection->fetchAllNumeric(
            'SELECT b.page, b.from_at FROM block_time b LEFT JOIN rollup_time_5m r ON r.page = b.page AND r.from_at = b.from_at
             WHERE b.from_at < ? AND r.page IS NULL LIMIT ' . self::RUNS_A_ROUND,
            [$beforeMs],
        );
        $done = 0;
        $until = microtime(true) + Part::ROUND_SECONDS;
        foreach ($lacking as [$page, $from]) {
            $this->database->transaction(
                fn(Connection $connection) => $this->rollUp($connection, Scalar::int($page), Scalar::int($from)),
            );
            ++$done;
            if (microtime(true) > $until) {
                break;
            }
        }

        return $done;
    }

    /** @throws DamagedBlock */
    private function rollUp(Connection $connection, int $page, int $from): void
    {
        try {
            $times = $this->runs->times($page, $from, $from + 1);
        } catch (DamagedBlock) {
            $this->logger->error(
                'The times of page {page} from {from} are damaged: its readings go without five-minute roll-ups',
                ['page' => $page, 'from' => $from],
            );
            $this->blocks->rollUpNothing($page, $from);

            return;
        }
        if ($times !== []) {
            $series = PageSeries::of($connection, $page);
            $run = $this->runs->readings(
                $times,
                $series->ids(),
                fn(int $id, int $from) => $this->logger->error(
                    'Series {series} is damaged from {from}: it goes without five-minute roll-ups',
                    ['series' => $id, 'from' => $from],
                ),
            );
            $this->blocks->rollUp($page, $from, $run, $series->counters);
        }
    }
}

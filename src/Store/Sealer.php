<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Part;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SetAside;
use Olivine\Core\Series\DamagedBlock;
use Psr\Log\LoggerInterface;
use Psr\Log\NullLogger;

/**
 * Turns old scrape rows into blocks and roll-ups: one transaction a page and span, so no reading is there twice or
 * not at all. A day that is over is sealed as a whole, with what of it was sealed before, into few long runs; so are
 * rows that come late. Rows that come after their span of a day that goes on was sealed are laid into its blocks.
 * Where a block is damaged nothing is sealed over it: its day stays as it is, the log says so, and all else goes on.
 */
final class Sealer
{
    /** A span is sealed when it has been over for this long. */
    public const SETTLE_MS = 600_000;
    /** So is a day: by then most of what comes late is there. */
    private const DAY_SETTLES_MS = 3 * 3_600_000;
    private const PAGES_A_ROUND = 20;
    /** After this it is looked whether a damaged block has been restored, and said again if not. */
    private const LOOK_AGAIN_MS = 3_600_000;

    private readonly SealedRuns $runs;
    /** @var array<int, int> page → end of the day up to which its rows wait for a damaged block to be restored */
    private array $setAside = [];
    private int $lookAgainAtMs = 0;

    public function __construct(
        private readonly Database $database,
        private readonly BlockWriter $blocks,
        private readonly LoggerInterface $logger = new NullLogger(),
        private readonly ?SetAside $aside = null,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->runs = new SealedRuns($database->connection);
    }

    public static function isOver(int $dayMs, int $nowMs): bool
    {
        return $nowMs >= $dayMs + Span::DAY_MS + self::DAY_SETTLES_MS;
    }

    /**
     * @phpstan-impure
     *
     * @return int how many pages were sealed; 0 when nothing is left to do
     */
    public function round(int $nowMs): int
    {
        if ($nowMs >= $this->lookAgainAtMs) {
            $this->setAside = [];
            $this->lookAgainAtMs = $nowMs + self::LOOK_AGAIN_MS;
        }
        $bound = Span::startOf($nowMs - self::SETTLE_MS);
        $oldest = $this->database->connection->fetchAllKeyValue(
            'SELECT page, MIN(at) FROM scrape_row WHERE page NOT IN (?) GROUP BY page HAVING MIN(at) <= ? LIMIT ' .
                self::PAGES_A_ROUND,
            [[0, ...array_keys($this->setAside)], $bound],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER],
        );
        foreach ($this->setAside as $page => $through) {
            $at = $this->database->connection->fetchOne('SELECT MIN(at) FROM scrape_row WHERE page = ? AND at > ? AND at <= ?', [
                $page,
                $through,
                $bound,
            ]);
            if ($at !== null && $at !== false) {
                $oldest[$page] = $at;
            }
        }
        $done = 0;
        $until = microtime(true) + Part::ROUND_SECONDS;
        foreach ($oldest as $page => $at) {
            if (!$this->tried(Scalar::int($page), Scalar::int($at), self::isOver(Span::dayOf(Scalar::int($at)), $nowMs))) {
                $this->setAside[Scalar::int($page)] = Span::dayOf(Scalar::int($at)) + Span::DAY_MS;
            }
            ++$done;
            if (microtime(true) > $until) {
                break;
            }
        }

        return $done;
    }

    /**
     * Puts the runs of a day that is over together, some pages a round, the next ones after the page that is named.
     *
     * @return int|null the last page of the round; null when all are done
     */
    public function joinDay(int $dayMs, int $afterPage): ?int
    {
        $pages = $this->database->connection->fetchFirstColumn(
            'SELECT DISTINCT page FROM block_time WHERE from_at >= ? AND from_at < ? AND page > ? ORDER BY page LIMIT ' .
                self::PAGES_A_ROUND,
            [$dayMs, $dayMs + Span::DAY_MS, $afterPage],
        );
        $until = microtime(true) + Part::ROUND_SECONDS;
        foreach ($pages as $page) {
            $this->tried(Scalar::int($page), $dayMs + 1, true);
            if (microtime(true) > $until) {
                return Scalar::int($page);
            }
        }

        return $pages === [] ? null : Scalar::int(end($pages));
    }

    private function tried(int $page, int $atMs, bool $dayIsOver): bool
    {
        try {
            $this->database->transaction(fn(Connection $connection) => $this->seal($connection, $page, $atMs, $dayIsOver));

            return true;
        } catch (DamagedBlock $damage) {
            $this->logger->error('Page {page} is not sealed on the day from {day}: {damage}', [
                'page' => $page,
                'day' => gmdate('Y-m-d', intdiv(Span::dayOf($atMs), 1000)),
                'damage' => $damage->getMessage(),
            ]);
            $this->aside?->put(
                'keeper',
                "sealing page {$page} on " . gmdate('Y-m-d', intdiv(Span::dayOf($atMs), 1000)),
                $damage->getMessage(),
                $this->clock->now(),
            );

            return false;
        }
    }

    /** @throws DamagedBlock */
    private function seal(Connection $connection, int $page, int $atMs, bool $dayIsOver): void
    {
        $day = Span::dayOf($atMs);
        $runs = $this->runs->times($page, $day, $day + Span::DAY_MS);
        $waiting = Scalar::int(
            $connection->fetchOne('SELECT COUNT(*) FROM scrape_row WHERE page = ? AND at > ? AND at <= ?', [
                $page,
                $day,
                $day + Span::DAY_MS,
            ]),
        );
        $joins = $dayIsOver && BlockWriter::joins($waiting + array_sum(array_map(count(...), $runs)));
        // Where a clock went back, a day that seems to go on may have been joined.
        $asDay = $joins || self::areJoined($runs);
        if ($waiting === 0 && (count($runs) < 2 || !$joins)) {
            return;
        }
        [$after, $through] = $asDay ? [$day, $day + Span::DAY_MS] : [Span::startOf($atMs), Span::startOf($atMs) + Span::MS];
        /** @var array<int, string> $rows */
        $rows = $connection->fetchAllKeyValue(
            'SELECT at, packed FROM scrape_row WHERE page = ? AND at > ? AND at <= ? ORDER BY at FOR UPDATE',
            [$page, $after, $through],
        );
        $series = PageSeries::of($connection, $page);
        $sealed = $this->runs->readings($asDay ? $runs : array_intersect_key($runs, [$after => true]), $series->ids());
        $readings = $sealed->with(PageReadings::ofRows($rows, $series->slots));
        if ($asDay) {
            $this->blocks->clear($page, $series->ids(), $day);
        }
        $rows === []
            ? $this->blocks->writeRuns($page, $readings, $series->counters, $joins)
            : $this->blocks->write($page, $readings, $series->counters, $joins);
        $connection->executeStatement('DELETE FROM scrape_row WHERE page = ? AND at > ? AND at <= ?', [$page, $after, $through]);
    }

    /** @param array<int, non-empty-list<int>> $runs start → times */
    private static function areJoined(array $runs): bool
    {
        foreach ($runs as $start => $times) {
            if (end($times) > $start + Span::MS) {
                return true;
            }
        }

        return false;
    }
}

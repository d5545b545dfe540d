<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Series\ScrapeValues;

/**
 * Puts scrape rows into the store. Their key is (page, time): the same row twice counts once.
 *
 * Rows go as parameters of statements that the server has prepared: as text, every byte of theirs would be
 * looked at three times (four times slower, measured).
 */
final class ScrapeWriter
{
    private const COLUMNS = ['page', 'at', 'packed'];
    private const ROWS_A_STATEMENT = 100;

    /** @var array<int, \PDOStatement> rows → statement */
    private array $statements = [];
    private ?\PDO $prepared = null;

    public function __construct(private readonly Database $database)
    {
    }

    /** @param list<ScrapeRow> $rows each at a time of its own; one that is there already stays */
    public function insert(array $rows): void
    {
        foreach (array_chunk($rows, self::ROWS_A_STATEMENT) as $chunk) {
            $this->statement(count($chunk))->execute(array_merge(...array_map(self::columns(...), $chunk)));
        }
    }

    /**
     * Rows that may meet others of the same page and time: readings that carry times of their own.
     *
     * @param list<ScrapeRow> $rows
     *
     * @return list<ScrapeRow> what of them was not there before; all else in them is silent
     */
    public function merge(array $rows): array
    {
        $connection = $this->database->connection;

        return $connection->isTransactionActive()
            ? $this->mergeNow($connection, $rows)
            : $this->database->transaction(fn(Connection $connection): array => $this->mergeNow($connection, $rows));
    }

    /** @param list<ScrapeRow> $rows */
    public static function count(array $rows): int
    {
        $count = 0;
        foreach ($rows as $row) {
            foreach (str_split($row->values, 8) as $value) {
                $count += (int) ($value !== ScrapeValues::SILENT && $value !== ScrapeValues::ABSENT);
            }
        }

        return $count;
    }

    /**
     * @param list<ScrapeRow> $rows
     *
     * @return list<ScrapeRow>
     */
    private function mergeNow(Connection $connection, array $rows): array
    {
        $news = [];
        foreach (array_chunk(self::together($rows), self::ROWS_A_STATEMENT) as $chunk) {
            $there = $this->there($connection, $chunk);
            $merged = [];
            foreach ($chunk as $row) {
                $first = $there["{$row->page} {$row->atMs}"] ?? null;
                $merged[] =
                    $first === null ? $row : new ScrapeRow($row->page, $row->atMs, ScrapeValues::merge($first, $row->values));
                $new = $first === null ? $row->values : ScrapeValues::news($first, $row->values);
                if ($new !== '') {
                    $news[] = new ScrapeRow($row->page, $row->atMs, $new);
                }
            }
            $this->database->upsert('scrape_row', self::COLUMNS, array_map(self::columns(...), $merged));
        }

        return $news;
    }

    /**
     * @param list<ScrapeRow> $rows
     *
     * @return array<string, string> "page time" → values of those that are there, locked
     */
    private function there(Connection $connection, array $rows): array
    {
        $found = $connection->executeQuery(
            'SELECT page, at, packed FROM scrape_row WHERE page IN (?) AND at IN (?) FOR UPDATE',
            [array_values(array_unique(array_column($rows, 'page'))), array_values(array_unique(array_column($rows, 'atMs')))],
            [ArrayParameterType::INTEGER, ArrayParameterType::INTEGER],
        );
        $there = [];
        foreach ($found->iterateNumeric() as [$page, $at, $packed]) {
            $there[Scalar::text($page) . ' ' . Scalar::text($at)] = Scalar::text($packed);
        }

        return $there;
    }

    /**
     * @param list<ScrapeRow> $rows
     *
     * @return list<ScrapeRow> each page and time once
     */
    private static function together(array $rows): array
    {
        $byKey = [];
        foreach ($rows as $row) {
            $key = "{$row->page} {$row->atMs}";
            $byKey[$key] = isset($byKey[$key])
                ? new ScrapeRow($row->page, $row->atMs, ScrapeValues::merge($byKey[$key]->values, $row->values))
                : $row;
        }

        return array_values($byKey);
    }

    private function statement(int $rows): \PDOStatement
    {
        $native = $this->database->connection->getNativeConnection();
        \assert($native instanceof \PDO);
        if ($this->prepared !== $native) {
            [$this->prepared, $this->statements] = [$native, []];
        }

        if (!isset($this->statements[$rows])) {
            // The driver looks at this only on the connection.
            $native->setAttribute(\PDO::ATTR_EMULATE_PREPARES, false);
            try {
                $this->statements[$rows] = $native->prepare(
                    'INSERT IGNORE INTO scrape_row (' .
                        implode(', ', self::COLUMNS) .
                        ') VALUES ' .
                        implode(', ', array_fill(0, $rows, '(?, ?, ?)')),
                );
            } finally {
                $native->setAttribute(\PDO::ATTR_EMULATE_PREPARES, true);
            }
        }

        return $this->statements[$rows];
    }

    /** @return list<int|string> */
    private static function columns(ScrapeRow $row): array
    {
        return [$row->page, $row->atMs, $row->values];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Formula\Latecomers;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\ScrapeValues;

/** Which readings came after rules had looked at their instant. They are in the store as all others are; here stands from when on. */
final readonly class LateReadings implements Latecomers
{
    public function __construct(private Database $database, private SeriesIndex $index)
    {
    }

    /**
     * In the transaction that writes the readings.
     *
     * @param list<ScrapeRow> $rows only what is new of each row
     */
    public function keep(array $rows, int $seenFromMs): void
    {
        $this->database->insertNew(
            'late_reading',
            ['page', 'at', 'seen_from', 'packed'],
            array_map(static fn(ScrapeRow $row): array => [$row->page, $row->atMs, $seenFromMs, $row->values], $rows),
        );
    }

    public function forgetBefore(int $beforeMs): void
    {
        $this->database->connection->executeStatement('DELETE FROM late_reading WHERE at < ? LIMIT 10000', [$beforeMs]);
    }

    public function isAnyHidden(int $atMs): bool
    {
        return Scalar::int($this->database->connection->fetchOne('SELECT COALESCE(MAX(seen_from), 0) FROM late_reading')) > $atMs;
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function nextTurn(Select $what, int $fromMs, int $throughMs): ?int
    {
        $pages = $this->pages($what);
        $turn =
            $pages === []
                ? null
                : $this->database->connection
                    ->executeQuery(
                        'SELECT MIN(seen_from) FROM late_reading WHERE page IN (?) AND seen_from > ? AND seen_from <= ?',
                        [array_keys($pages), $fromMs, $throughMs],
                        [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
                    )
                    ->fetchOne();

        return $turn === null || $turn === false ? null : Scalar::int($turn);
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function hidden(Select $what, int $afterMs, int $throughMs, int $seenAtMs): array
    {
        $pages = $this->pages($what);
        if ($pages === []) {
            return [];
        }
        $hidden = [];
        $rows = $this->database->connection->executeQuery(
            'SELECT page, at, packed FROM late_reading WHERE page IN (?) AND at > ? AND at <= ? AND seen_from > ?',
            [array_keys($pages), $afterMs, $throughMs, $seenAtMs],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
        );
        foreach ($rows->iterateNumeric() as [$page, $at, $packed]) {
            $values = ScrapeValues::unpack(Scalar::text($packed));
            foreach ($pages[Scalar::int($page)] as $slot => $labels) {
                if (isset($values[$slot]) && !ScrapeValues::isSilent($values[$slot])) {
                    $hidden[$labels][Scalar::int($at)] = true;
                }
            }
        }

        return $hidden;
    }

    /**
     * @return array<int, array<int, string>> page → slot → key of the labels
     *
     * @throws TooMuchToRead
     */
    private function pages(Select $what): array
    {
        $pages = [];
        foreach ($this->index->select($what) as $series) {
            $pages[$series->page][$series->slot] = $series->labels->key();
        }

        return $pages;
    }
}

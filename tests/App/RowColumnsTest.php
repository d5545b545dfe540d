<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Store\RowColumns;
use Olivine\Core\Series\ScrapeValues;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Columns out of rows: few or many of a page, rows that grow as series come, in the order of time or in none. */
final class RowColumnsTest extends TestCase
{
    /** @return iterable<string, array{int, int, bool}> series of a page, how many of them are wanted, whether the rows come in order */
    public static function pages(): iterable
    {
        foreach ([1, 16, 17, 60] as $wanted) {
            yield "{$wanted} of 60, in order" => [60, $wanted, true];
            yield "{$wanted} of 60, in none" => [60, $wanted, false];
        }
        yield 'the only one' => [1, 1, false];
    }

    #[DataProvider('pages')]
    public function testEachSeriesHasItsOwnValuesAtTheirTimes(int $series, int $wanted, bool $inOrder): void
    {
        mt_srand(7 * $series + $wanted);
        $rows = [];
        $expected = [];
        $slots = [];
        foreach ([3, 8] as $page) {
            $chosen = (array) array_rand(range(0, $series - 1), $wanted);
            foreach ($chosen as $slot) {
                $slots[$page][1_000 * $page + $slot] = $slot;
            }
            for ($at = 1; $at <= 40; ++$at) {
                // A series that comes later stands behind all that were there.
                $places = max(1, min($series, 10 + 2 * $at));
                $values = array_map(static fn(): float => mt_rand(-1_000, 1_000) / 8, range(1, $places));
                $rows[] = [$page, $at * 15_000, ScrapeValues::pack($values)];
                foreach ($chosen as $slot) {
                    if ($slot < $places) {
                        $expected[1_000 * $page + $slot][$at * 15_000] = $values[$slot];
                    }
                }
            }
        }
        if (!$inOrder) {
            shuffle($rows);
        }
        $columns = new RowColumns($slots);
        foreach ($rows as [$page, $at, $row]) {
            $columns->take($page, $at, $row);
        }
        $found = array_map(static fn(array $column): array => array_combine($column[0], $column[1]), $columns->bySeries());
        ksort($found);
        ksort($expected);
        self::assertSame($expected, $found);
    }

    public function testWhereThereAreNoRowsNothingIsFound(): void
    {
        self::assertSame([], (new RowColumns([3 => [1 => 0]]))->bySeries());
    }
}

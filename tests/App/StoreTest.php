<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\TargetReader;
use Olivine\App\Platform\Database;
use Olivine\App\Store\BlockWriter;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\Sealer;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\StoredReadings;
use Olivine\App\Store\StoredRollups;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use PHPUnit\Framework\TestCase;

/** From exposition text to windows, over a real MariaDB. */
final class StoreTest extends TestCase
{
    private const START = 1_795_000_000_000;

    public function testSealingChangesNothingThatAReaderSees(): void
    {
        $database = Instance::emptyDatabase('store');
        $target = $this->target($database, 'web-1');
        $reader = new TargetReader($target, new SeriesRegister($database));
        mt_srand(9);
        $sum = 0.0;
        $count = 0;
        for ($scrape = 0; $scrape < 2_400; ++$scrape) {
            $text = "# TYPE load gauge\n";
            foreach (range(1, 300) as $cpu) {
                // One series comes late, one goes away for a while, one is not always a number.
                if (($cpu === 7 && $scrape < 900) || ($cpu === 8 && $scrape > 700 && $scrape < 1_500)) {
                    continue;
                }
                $value = $cpu === 9 && $scrape % 50 === 0 ? 'NaN' : (string) (mt_rand(0, 10_000) / 100);
                $text .= "load{cpu=\"{$cpu}\"} {$value}\n";
                if ($value !== 'NaN') {
                    $sum += (float) $value;
                    ++$count;
                }
                if ($scrape % 8 !== 0 && $cpu === 12) {
                    break; // most scrapes are short, to be quick
                }
            }
            $this->write($database, $reader->read($text . "# EOF\n", Form::OpenMetrics, self::START + $scrape * 15_000));
        }
        $readings = new StoredReadings($database->connection, new SeriesIndex($database->connection), new StoredRollups($database->connection));
        $all = static fn(): array => $readings->windows(new Select(new Place(0, 0), 'load', null), self::START - 1, self::START + 2_400 * 15_000);
        $before = $all();
        self::assertCount(300, $before);
        self::assertSame([$count, round($sum, 3)], self::total($before));
        $formula = Parser::parse('mean(load where cpu in ("1", "7", "8", "9", "200"), 5m)');
        $range = static fn(): array => array_map(static fn($line): array => [$line->labels->key(), json_encode($line->values)], (new Evaluator($readings))->range($formula, self::START + 60_000, self::START + 35_000_000, 60_000)->lines);
        $drawn = $range();

        $sealer = new Sealer($database, new BlockWriter($database));
        $sealed = 0;
        while (($done = $sealer->round(self::START + 2_000 * 15_000)) > 0) {
            $sealed += $done;
            self::assertSame([$count, round($sum, 3)], self::total($all()), 'nothing is there twice or missing while sealing goes on');
        }
        self::assertGreaterThanOrEqual(2, $sealed);
        self::assertGreaterThan(300, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM block'));
        self::assertGreaterThan(0, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM scrape_row'), 'the newest span stays in rows');
        self::assertSame($drawn, $range());
        self::assertSame(0, $sealer->round(self::START + 2_000 * 15_000));
    }

    public function testASeriesThatStopsIsEndedNotFrozen(): void
    {
        $database = Instance::emptyDatabase('ended');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        $at = self::START;
        foreach (["a 1\nb 1\n", "a 2\nb 2\n", "a 3\n", "a 4\n", "a 5\nb 5\n"] as $text) {
            $this->write($database, $reader->read($text . "# EOF\n", Form::OpenMetrics, $at += 15_000));
        }
        $readings = new StoredReadings($database->connection, new SeriesIndex($database->connection), new StoredRollups($database->connection));
        $values = (new Evaluator($readings))->range(Parser::parse('b'), self::START + 15_000, $at, 15_000)->lines[0]->values;
        self::assertSame([1.0, 2.0, null, null, 5.0], $values);
    }

    public function testTheSameScrapeTwiceCountsOnce(): void
    {
        $database = Instance::emptyDatabase('twice');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        $rows = $reader->read("a 1\n# EOF\n", Form::OpenMetrics, self::START);
        $this->write($database, $rows);
        $this->write($database, $rows);
        self::assertSame(1, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM scrape_row'));
    }

    private function target(Database $database, string $name): Target
    {
        $target = new Target($name, 'http://example.invalid/', self::START);
        $target->intervalSeconds = 15;
        $database->connection->insert('target', ['name' => $name, 'url' => '', 'interval_seconds' => 15, 'timeout_seconds' => 10, 'labels' => '{}', 'paused' => 0, 'created_at' => 0]);
        $target->id = (int) $database->connection->lastInsertId();

        return $target;
    }

    /** @param list<ScrapeRow> $rows */
    private function write(Database $database, array $rows): void
    {
        (new ScrapeWriter($database))->insert($rows);
    }

    /**
     * @param list<\Olivine\Core\Series\Window> $windows
     *
     * @return array{int, float}
     */
    private static function total(array $windows): array
    {
        $count = 0;
        $sum = 0.0;
        foreach ($windows as $window) {
            $present = array_filter($window->values, static fn(?float $value): bool => $value !== null && !is_nan($value));
            $count += count($present);
            $sum += array_sum($present);
        }

        return [$count, round($sum, 3)];
    }
}

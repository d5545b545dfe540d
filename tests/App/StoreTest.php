<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\TargetReader;
use Olivine\App\Platform\Database;
use Olivine\App\Store\BlockWriter;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\Sealer;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Span;
use Olivine\App\Store\VerifyCommand;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Formula\Estimate;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Series\Tier;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Console\Tester\CommandTester;

/** From exposition text to windows, over a real MariaDB. */
final class StoreTest extends TestCase
{
    use OverAStore;

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
        $readings = self::readings($database);
        $all = static fn(): array => $readings->windows(new Select(new Place(0, 0), 'load', null), self::START - 1, self::START + 2_400 * 15_000);
        $before = $all();
        self::assertCount(300, $before);
        self::assertSame([$count, round($sum, 3)], self::total($before));
        $formula = Parser::parse('mean(load where cpu in ("1", "7", "8", "9", "200"), 5m)');
        $range = static fn(): array => array_map(
            static fn($line): array => [$line->labels->key(), json_encode($line->values)],
            (new Evaluator($readings))->range($formula, self::START + 60_000, self::START + 35_000_000, 60_000)->lines,
        );
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

    public function testRollUpsTellTheSameAsReadings(): void
    {
        $database = Instance::emptyDatabase('rollups');
        $register = new SeriesRegister($database);
        $reader = new TargetReader($this->target($database, 'gate'), $register);
        mt_srand(21);
        $start = Span::dayOf(self::START);
        [$jobs, $depth] = [0, 50.0];
        for ($at = $start + 7_000; $at < $start + 30 * 3_600_000; $at += 15_000 + mt_rand(-40, 40)) {
            $jobs = mt_rand(0, 700) === 0 ? 0 : $jobs + mt_rand(0, 9);
            $depth = max(0.0, round($depth + mt_rand(-30, 30) / 10, 1));
            // The late one comes at noon and is gone for the afternoon.
            $hour = ($at - $start) / 3_600_000;
            $late = $hour > 12 && ($hour < 14 || $hour > 18) ? "late {$depth}\n" : '';
            $this->write(
                $database,
                $reader->read(
                    "# TYPE jobs counter\njobs_total {$jobs}\n# TYPE depth gauge\ndepth " .
                        (mt_rand(0, 90) === 0 ? 'NaN' : $depth) .
                        "\n{$late}# EOF\n",
                    Form::OpenMetrics,
                    $at,
                ),
            );
        }
        $sealer = new Sealer($database, new BlockWriter($database));
        while ($sealer->round($start + 25 * 3_600_000) > 0) {
        }
        self::assertGreaterThan(0, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM scrape_row'), 'a part is fresh still');
        $rolled = self::readings($database);
        $parts = iterator_to_array($rolled->inParts(new Select(new Place(0, 0), 'jobs_total', null), $start, $start + 30 * 3_600_000, 1), false);
        self::assertEquals($rolled->windows(new Select(new Place(0, 0), 'jobs_total', null), $start, $start + 30 * 3_600_000), $parts);
        $plain = new class ($rolled) implements ReadingSource {
            public function __construct(private readonly ReadingSource $of)
            {
            }

            public function windows(Select $what, int $afterMs, int $throughMs): array
            {
                return $this->of->windows($what, $afterMs, $throughMs);
            }

            public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
            {
                return null;
            }

            public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
            {
                return null;
            }

            public function alerts(string $rule, int $afterMs, int $throughMs): array
            {
                return [];
            }

            public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
            {
                return $this->of->estimate($what, $afterMs, $throughMs);
            }

            public function longestStaleMs(Select $what): int
            {
                return $this->of->longestStaleMs($what);
            }
        };
        $used = 0;
        foreach (['mean', 'min', 'max', 'sum', 'count', 'first', 'last', 'range', 'change', 'growth', 'rate'] as $function) {
            foreach (['depth', 'jobs_total', 'late'] as $metric) {
                foreach (['5m' => 300_000, '15m' => 900_000, '1h' => 3_600_000, '3h' => 3_600_000] as $window => $step) {
                    $formula = Parser::parse("{$function}({$metric}, {$window})");
                    $from = $start + 2 * 3_600_000;
                    $to = $start + 28 * 3_600_000;
                    $fast = (new Evaluator($rolled))->range($formula, $from, $to, $step)->lines;
                    $slow = (new Evaluator($plain))->range($formula, $from, $to, $step)->lines;
                    self::assertCount(count($slow), $fast);
                    foreach ($slow as $i => $line) {
                        foreach ($line->values as $n => $value) {
                            $same =
                                $value === null
                                    ? $fast[$i]->values[$n] === null
                                    : abs($value - (float) $fast[$i]->values[$n]) <= 1e-9 * max(1.0, abs($value));
                            self::assertTrue(
                                $same,
                                "{$function}({$metric}, {$window}) at " . ($from + $n * $step) . ': ' . json_encode([$value, $fast[$i]->values[$n]]),
                            );
                            ++$used;
                        }
                    }
                }
            }
        }
        self::assertGreaterThan(100, $used);
        foreach (Tier::cases() as $tier) {
            self::assertNotNull(
                $rolled->buckets(new Select(new Place(0, 0), 'depth', null), $tier, Detail::Everything, $start, $start + 24 * 3_600_000),
                'roll-ups were there to be used',
            );
        }
    }

    public function testLateReadingsAreLaidIntoTheirPlaceOnce(): void
    {
        $database = Instance::emptyDatabase('late');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        for ($i = 0; $i < 2_000; ++$i) {
            $this->write($database, $reader->read("a {$i}\nb 1\n# EOF\n", Form::OpenMetrics, self::START + $i * 15_000));
        }
        $sealer = new Sealer($database, new BlockWriter($database));
        while ($sealer->round(self::START + 2_000 * 15_000) > 0) {
        }
        $page = (int) $database->connection->fetchOne('SELECT page FROM series LIMIT 1');
        $readings = self::readings($database);
        $total = static fn(): array => self::total($readings->windows(new Select(new Place(0, 0), 'a', null), 0, self::START + 40_000_000));
        $before = $total();
        $late = [
            new ScrapeRow($page, self::START + 100 * 15_000 + 1, ScrapeValues::pack([7.0, ScrapeValues::silent()])),
            new ScrapeRow($page, self::START + 50 * 15_000, ScrapeValues::pack([9_999.0])),
        ];
        $expected = [$before[0] + 1, $before[1] + 7];
        foreach (['first', 'again'] as $time) {
            (new ScrapeWriter($database))->merge($late);
            self::assertSame($expected, $total(), "{$time}: in its place before it is sealed");
            foreach ($readings->windows(new Select(new Place(0, 0), 'a', null), 0, self::START + 40_000_000) as $window) {
                $rising = $window->times;
                sort($rising);
                self::assertSame($rising, $window->times);
                self::assertSame(array_values(array_unique($rising)), $window->times);
            }
            while ($sealer->round(self::START + 2_000 * 15_000) > 0) {
            }
            self::assertSame($expected, $total(), "{$time}: one reading more; the one that was there already stays");
        }
        $spent = array_merge(...array_column($readings->windows(new Select(new Place(0, 0), 'b', null), 0, self::START + 40_000_000), 'values'));
        self::assertNotContains(null, $spent, 'a series of which nothing is said has not ended');
        self::assertSame(
            1.0,
            (new Evaluator($readings))->range(Parser::parse('count(a, 1ms)'), self::START + 100 * 15_000 + 1, self::START + 100 * 15_000 + 1, 1)
                ->lines[0]->values[0],
        );
    }

    public function testADamagedBlockIsFound(): void
    {
        $database = Instance::emptyDatabase('damaged');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        for ($i = 0; $i < 1_200; ++$i) {
            $this->write($database, $reader->read("a {$i}\nb " . $i / 7 . "\nc 1\n# EOF\n", Form::OpenMetrics, self::START + $i * 15_000));
        }
        $sealer = new Sealer($database, new BlockWriter($database));
        while ($sealer->round(self::START + 50_000_000) > 0) {
        }
        $verify = new CommandTester(new VerifyCommand($database->connection));
        self::assertSame(0, $verify->execute([]), $verify->getDisplay());
        self::assertStringContainsString('with 3600 readings', $verify->getDisplay());
        $series = $database->connection->fetchFirstColumn('SELECT id FROM series ORDER BY id');
        $database->connection->executeStatement(
            'UPDATE block SET packed = INSERT(packed, 9, 1, CHAR(ORD(SUBSTR(packed, 9, 1)) ^ 4)) WHERE series = ? LIMIT 1',
            [$series[0]],
        );
        $database->connection->executeStatement('UPDATE block SET total = total + 1 WHERE series = ? LIMIT 1', [$series[1]]);
        $database->connection->executeStatement('UPDATE block SET readings = readings - 1 WHERE series = ? LIMIT 1', [$series[2]]);
        $verify = new CommandTester(new VerifyCommand($database->connection));
        self::assertSame(1, $verify->execute([]));
        foreach (["series {$series[0]} .*checksum", "series {$series[1]} .*sum is", "series {$series[2]} .*readings, not", '3 damaged'] as $fault) {
            self::assertMatchesRegularExpression("~{$fault}~", $verify->getDisplay());
        }
    }

    public function testASeriesThatStopsIsEndedNotFrozen(): void
    {
        $database = Instance::emptyDatabase('ended');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        $at = self::START;
        foreach (["a 1\nb 1\n", "a 2\nb 2\n", "a 3\n", "a 4\n", "a 5\nb 5\n"] as $text) {
            $this->write($database, $reader->read($text . "# EOF\n", Form::OpenMetrics, $at += 15_000));
        }
        $readings = self::readings($database);
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

    /** One looks, the other brings a metric, then the first one brings it too; and what is begun anew forgets what it made. */
    public function testTwoWhoBringTheSameNewMetricAgreeOnIt(): void
    {
        $database = Instance::emptyDatabase('agree');
        $other = Instance::connect();
        $other->executeStatement('USE olivine_agree');
        [$gate, $pier] = [$this->target($database, 'gate'), $this->target($database, 'pier')];
        [$here, $there] = [new SeriesRegister($database), new SeriesRegister(new Database($other))];
        $samples = TextReader::read("# TYPE depth gauge\ndepth 1\n# EOF\n", Form::OpenMetrics)->samples;
        $database->transaction(static function (Connection $connection) use ($here, $there, $gate, $pier, $samples): void {
            self::assertSame(0, (int) $connection->fetchOne('SELECT COUNT(*) FROM metric'));
            $there->register($pier, $samples, self::START);
            self::assertSame(0, (int) $connection->fetchOne('SELECT COUNT(*) FROM metric'), 'what the other did is not seen from here');
            self::assertCount(1, $here->register($gate, $samples, self::START));
        });
        self::assertCount(2, (new SeriesIndex($database->connection))->ofMetric('depth'));

        $again = TextReader::read("# TYPE width gauge\nwidth 1\n# EOF\n", Form::OpenMetrics)->samples;
        try {
            $database->transaction(static fn() => [$here->register($gate, $again, self::START), throw new \RuntimeException('taken back')]);
        } catch (\RuntimeException) {
        }
        $here->register($gate, $again, self::START);
        self::assertCount(1, (new SeriesIndex($database->connection))->ofMetric('width'));
    }
}

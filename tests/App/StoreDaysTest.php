<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\TargetReader;
use Olivine\App\Platform\Database;
use Olivine\App\Store\BlockWriter;
use Olivine\App\Store\DayCloser;
use Olivine\App\Store\LastRollups;
use Olivine\App\Store\LetGo;
use Olivine\App\Store\PageReadings;
use Olivine\App\Store\Partitions;
use Olivine\App\Store\Retention;
use Olivine\App\Store\RetentionTier;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\Sealer;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Span;
use Olivine\App\Store\StoreSizes;
use Olivine\App\Store\VerifyCommand;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Series\Tier;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Psr\Log\AbstractLogger;
use Symfony\Component\Console\Tester\CommandTester;
use Symfony\Component\Process\Process;

/** Days that are over: joined, packed tight, rolled up and let go, over a real MariaDB. */
final class StoreDaysTest extends TestCase
{
    use OverAStore;

    /** A day that begins a partition. */
    private const DAY = 10_387 * 2 * Span::DAY_MS;
    private const MINUTE = 60_000;

    public function testADayThatIsOverIsJoinedAndNothingElseChanges(): void
    {
        $database = Instance::emptyDatabase('joined');
        $day = self::DAY;
        [$sealer, $partitions] = [new Sealer($database, new BlockWriter($database)), new Partitions($database->connection)];
        $partitions->cover($day, $day + 4 * Span::DAY_MS);
        $reader = new TargetReader($this->target($database, 'gate', 60), new SeriesRegister($database));
        mt_srand(11);
        for ($at = $day + 7_000; $at <= $day + 60 * 3_600_000; $at += self::MINUTE) {
            $this->write($database, $reader->read(self::text($at - $day), Form::OpenMetrics, $at));
            if (($at - $day) % Span::MS > 11 * self::MINUTE && ($at - $day) % Span::MS < 13 * self::MINUTE) {
                while ($sealer->round($at) > 0) {
                }
            }
        }
        while ($sealer->round($day + 60 * 3_600_000) > 0) {
        }
        $evaluator = new Evaluator(self::readings($database));
        $all = static function () use ($evaluator, $database, $day): array {
            $seen = [];
            foreach (['jobs_total', 'depth', 'late', 'mean(depth, 5m)', 'growth(jobs_total, 1h)', 'count(late, 1h)', 'max(depth, 3h)'] as $formula) {
                foreach ($evaluator->range(Parser::parse($formula), $day + 3_600_000, $day + 59 * 3_600_000, 300_000)->lines as $line) {
                    $seen["{$formula} {$line->labels->key()}"] = json_encode(
                        array_map(static fn(?float $value): ?float => $value === null ? null : round($value, 9), $line->values),
                    );
                }
            }
            foreach ([[0, 60], [3, 5], [11.5, 12.5], [23.9, 24.1], [24, 48], [47, 47.1]] as [$from, $to]) {
                $windows = self::readings($database)->windows(
                    new Select(new Place(0, 0), 'depth', null),
                    $day + (int) ($from * 3_600_000),
                    $day + (int) ($to * 3_600_000),
                );
                $seen["{$from} {$to}"] = json_encode(
                    array_map(static fn($window): array => [$window->times, array_map(strval(...), $window->values)], $windows),
                );
            }

            return $seen;
        };
        $before = $all();
        $runs = static fn(int $from): int => (int) $database->connection->fetchOne(
            'SELECT COUNT(*) FROM block_time WHERE from_at >= ? AND from_at < ?',
            [$day + $from * Span::DAY_MS, $day + ($from + 1) * Span::DAY_MS],
        );
        self::assertSame([6, 6, 2], array_map($runs, [0, 1, 2]));

        $closer = new DayCloser($database->connection, $sealer, $partitions);
        $closer->remember($day - Span::DAY_MS);
        self::assertFalse($closer->round($day + 25 * 3_600_000), 'what comes late is waited for');
        while ($closer->round($day + 60 * 3_600_000)) {
            self::assertSame($before, $all());
        }
        self::assertSame([1, 1, 2], array_map($runs, [0, 1, 2]), 'the day that goes on stays as it is');
        self::assertSame(3 + 3 + 6, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM block'));
        self::assertSame($before, $all());

        // What comes all the same is laid into its joined day, once.
        $page = (int) $database->connection->fetchOne('SELECT page FROM series LIMIT 1');
        [$new, $there] = [$day + 5 * 3_600_000 + 31_000, $day + 7_000 + 600 * self::MINUTE];
        $total = static fn(): array => self::total(
            self::readings($database)->windows(new Select(new Place(0, 0), 'jobs_total', null), $day, $day + 60 * 3_600_000),
        );
        [$count, $sum] = $total();
        foreach (['first', 'again'] as $time) {
            (new ScrapeWriter($database))->merge([
                new ScrapeRow($page, $new, ScrapeValues::pack([4_000.0])),
                new ScrapeRow($page, $there, ScrapeValues::pack([9_999.0])),
            ]);
            self::assertSame([$count + 1, $sum + 4_000], $total(), "{$time}: before it is sealed");
            while ($sealer->round($day + 60 * 3_600_000) > 0) {
            }
            self::assertSame([$count + 1, $sum + 4_000], $total(), "{$time}: after");
            self::assertSame([1, 1, 2], array_map($runs, [0, 1, 2]));
        }
        self::assertSame(0, (new CommandTester(new VerifyCommand($database->connection)))->execute([]));
    }

    /** A counter that restarts, a gauge with a NaN now and then, and a series that comes late and leaves for a while. */
    private static function text(int $sinceMs): string
    {
        static $jobs = 0;
        $jobs = mt_rand(0, 300) === 0 ? 0 : $jobs + mt_rand(0, 9);
        $hour = $sinceMs / 3_600_000;
        $late = $hour > 12 && ($hour < 20 || $hour > 31) ? "late {$jobs}\n" : '';

        return "# TYPE jobs counter\njobs_total {$jobs}\n# TYPE depth gauge\ndepth " .
            (mt_rand(0, 90) === 0 ? 'NaN' : (string) (mt_rand(0, 900) / 10)) .
            "\n{$late}# EOF\n";
    }

    /**
     * @return iterable<string, array{int, float, int}> seconds between readings, how many values there are to choose from, and into
     *     how many runs the day is cut
     */
    public static function days(): iterable
    {
        yield 'each minute' => [60, 100.0, 1];
        yield 'each quarter minute' => [15, 100.0, 1];
        yield 'each minute, of all values there are' => [60, 1e15, 2];
        yield 'each half minute, of all values there are' => [30, 1e15, 3];
        yield 'each quarter minute, of all values there are' => [15, 1e15, 6];
        yield 'each ten seconds' => [10, 100.0, 6];
        yield 'one reading' => [86_400, 100.0, 1];
    }

    /** Runs are as long as their blocks fit into a row of the server. */
    #[DataProvider('days')]
    public function testADayIsCutIntoAsFewRunsAsFit(int $seconds, float $values, int $runs): void
    {
        $database = Instance::emptyDatabase('runs');
        mt_srand(13);
        $times = range(self::DAY + 1_000 * $seconds, self::DAY + Span::DAY_MS, 1_000 * $seconds);
        $column = array_map(static fn(): float => (((mt_rand(0, (int) 1e6) / 1e6) * mt_rand()) / mt_getrandmax()) * $values, $times);
        (new BlockWriter($database))->write(1, new PageReadings($times, [1 => $values < 1e6 ? array_map(round(...), $column) : $column]), [], true);
        self::assertSame(
            [$runs, count($times)],
            array_map(intval(...), array_values((array) $database->connection->fetchAssociative('SELECT COUNT(*), SUM(readings) FROM block'))),
        );
        self::assertSame($runs, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM block_time'));
    }

    /** Roll-ups take the place of readings that are let go, also of those that were as few, and of those read less often than a bucket is long. */
    public function testWhatIsLetGoIsRolledUpFirst(): void
    {
        $database = Instance::emptyDatabase('last');
        $day = self::DAY;
        $partitions = new Partitions($database->connection);
        $partitions->cover($day, $day + 5 * Span::DAY_MS);
        $writer = new BlockWriter($database);
        $register = new SeriesRegister($database);
        mt_srand(12);
        foreach (['gate' => 60, 'rare' => 1_200] as $name => $seconds) {
            $reader = new TargetReader($this->target($database, $name, $seconds), $register);
            for ($at = $day + 7_000; $at <= $day + 4 * Span::DAY_MS; $at += 1_000 * $seconds) {
                $this->write($database, $reader->read(self::text($at - $day), Form::OpenMetrics, $at));
            }
        }
        $sealer = new Sealer($database, $writer);
        while ($sealer->round($day + 6 * Span::DAY_MS) > 0) {
        }
        self::assertSame(0, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM rollup_time_5m'), 'both are read too seldom');
        $spans = [[26, 94], [26, 48], [30, 33], [47, 49.5], [80, 83]];
        $all = static function () use ($database, $day, $spans): array {
            $seen = [];
            foreach (['mean', 'min', 'max', 'sum', 'count', 'first', 'last', 'growth', 'rate', 'newest'] as $function) {
                foreach (['5m' => 300_000, '15m' => 300_000, '1h' => 300_000, '3h' => 3_600_000] as $window => $step) {
                    foreach ($spans as [$from, $to]) {
                        $formula = $function === 'newest' ? "jobs_total + {$step}" : "{$function}(jobs_total, {$window})";
                        foreach (
                            (new Evaluator(self::readings($database)))->range(
                                Parser::parse($formula),
                                $day + $from * 3_600_000,
                                $day + (int) ($to * 3_600_000),
                                $step,
                            )->lines as $line
                        ) {
                            $seen["{$formula} {$from} to {$to} {$line->labels->key()}"] = array_map(
                                static fn(?float $value): ?float => $value === null ? null : round($value, 9),
                                $line->values,
                            );
                        }
                    }
                }
            }

            return $seen;
        };
        $before = $all();
        self::assertCount((9 * 4 + 2) * 5 * 2, $before);

        $last = new LastRollups($database, $writer);
        while ($last->round($day + 2 * Span::DAY_MS) > 0) {
            self::assertSame($before, $all(), 'while only some are rolled up');
        }
        self::assertSame($before, $all());
        foreach (['block', 'block_time'] as $table) {
            self::assertGreaterThan(0, $partitions->dropBefore($table, $day + 2 * Span::DAY_MS));
        }
        (new Retention($database->connection))->rememberLetGo(RetentionTier::Readings, $day + 2 * Span::DAY_MS);
        foreach ($all() as $what => $values) {
            self::assertSame($before[$what], $values, $what);
        }
        self::assertSame(0, $last->round($day + 2 * Span::DAY_MS));
    }

    /** What is damaged is not written anew under a checksum that holds, and nothing else waits for it. */
    public function testADamagedBlockStaysForAllToSeeAndHoldsUpNothingElse(): void
    {
        $database = Instance::emptyDatabase('hurt');
        $day = self::DAY;
        $register = new SeriesRegister($database);
        [$hurt, $well] = array_map(fn(string $name): TargetReader => new TargetReader($this->target($database, $name, 60), $register), [
            'hurt',
            'well',
        ]);
        $log = new class extends AbstractLogger {
            /** @var list<string> */
            public array $said = [];

            public function log($level, string|\Stringable $message, array $context = []): void
            {
                $this->said[] = (string) $message;
            }
        };
        $sealer = new Sealer($database, new BlockWriter($database), $log);
        $bring = function (int $from, int $to) use ($database, $hurt, $well, $sealer): void {
            for ($at = $from; $at <= $to; $at += self::MINUTE) {
                $this->write($database, [
                    ...$hurt->read("a {$at}\nb 1\n# EOF\n", Form::OpenMetrics, $at),
                    ...$well->read("c 2\n# EOF\n", Form::OpenMetrics, $at),
                ]);
                while (($at - $from) % Span::MS === 0 && $sealer->round($at + 700_000) > 0) {
                }
            }
        };
        $bring($day + self::MINUTE, $day + Span::DAY_MS);
        while ($sealer->round($day + Span::DAY_MS + 700_000) > 0) {
        }
        $page = (int) $database->connection->fetchOne("SELECT page FROM series s JOIN metric m ON m.id = s.metric_id WHERE m.name = 'a'");
        $runs = static fn(): array => array_map(
            intval(...),
            $database->connection->fetchFirstColumn('SELECT COUNT(*) FROM block_time GROUP BY page ORDER BY page'),
        );
        self::assertSame([6, 6], $runs());
        // It still inflates and holds as many values; only the checksum tells.
        $a = $database->connection->fetchAssociative(
            "SELECT b.series, b.from_at, b.packed FROM block b JOIN series s ON s.id = b.series JOIN metric m ON m.id = s.metric_id WHERE m.name = 'a' LIMIT 1",
        );
        self::assertIsArray($a);
        $false = BlockCodec::unpack((string) $a['packed']);
        $false[7] += 60_000.0;
        $database->connection->executeStatement('UPDATE block SET packed = ? WHERE series = ? AND from_at = ?', [
            BlockCodec::pack(array_values($false)),
            $a['series'],
            $a['from_at'],
        ]);

        for ($after = 0; $after !== null;) {
            $after = $sealer->joinDay($day, $after);
        }
        self::assertSame([6, 1], $runs(), 'the other page is joined');
        self::assertCount(1, $log->said);
        (new ScrapeWriter($database))->merge([new ScrapeRow($page, (int) $a['from_at'] + 31_000, ScrapeValues::pack([5.0]))]);
        $bring($day + Span::DAY_MS + self::MINUTE, $day + Span::DAY_MS + 2 * Span::MS);
        for ($rounds = 0; $sealer->round($day + Span::DAY_MS + 3 * Span::MS) > 0; ++$rounds) {
            self::assertLessThan(20, $rounds, 'it does not turn in circles');
        }
        self::assertSame([8, 3], $runs(), 'the days to come are sealed');
        self::assertSame(
            [(int) $a['from_at'] + 31_000],
            array_map(intval(...), $database->connection->fetchFirstColumn('SELECT at FROM scrape_row')),
            'the late row waits, and is read',
        );
        self::assertSame(1, (new CommandTester(new VerifyCommand($database->connection)))->execute([]), 'the check still finds it');

        $last = new LastRollups($database, new BlockWriter($database), $log);
        $database->connection->executeStatement('UPDATE block_time SET packed = ? WHERE page = ? AND from_at = ?', [
            'no times at all',
            $page,
            $day + Span::MS,
        ]);
        for ($rounds = 0; $last->round($day + Span::DAY_MS) > 0; ++$rounds) {
            self::assertLessThan(20, $rounds);
        }
        self::assertSame(
            0,
            (int) $database->connection->fetchOne(
                'SELECT COUNT(*) FROM block_time b LEFT JOIN rollup_time_5m r ON r.page = b.page AND r.from_at = b.from_at
                 WHERE b.from_at < ? AND r.page IS NULL',
                [$day + Span::DAY_MS],
            ),
            'so retention goes on',
        );
        self::assertSame(
            4 * 2 + 1,
            (int) $database->connection->fetchOne(
                'SELECT COUNT(*) FROM rollup_5m r JOIN series s ON s.id = r.series WHERE s.page = ? AND r.from_at < ?',
                [$page, $day + Span::DAY_MS],
            ),
            'four whole runs of two series, and the one beside the damaged',
        );
    }

    /**
     * Before a reader asks for blocks their partition is packed tight. Who asks for nothing else does not see it; who
     * has asked for roll-ups before is told that what was then is gone, and begins anew.
     */
    public function testAReaderDoesNotNoticeThatAPartitionIsPackedTight(): void
    {
        $database = Instance::emptyDatabase('tight');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        for ($i = 1; $i <= 2_000; ++$i) {
            $this->write($database, $reader->read("a {$i}\n# EOF\n", Form::OpenMetrics, self::DAY + $i * 15_000));
        }
        $sealer = new Sealer($database, new BlockWriter($database));
        while ($sealer->round(self::DAY + 2_000 * 15_000) > 0) {
        }
        $connection = Instance::connect(Interrupted::class);
        \assert($connection instanceof Interrupted);
        $connection->executeStatement('USE olivine_tight');
        $asked = 0;
        $connection->before = static function (string $sql) use ($database, &$asked): void {
            if (str_contains($sql, 'FROM block WHERE') && $asked++ === 0) {
                $database->connection->executeStatement('ALTER TABLE block REBUILD PARTITION later');
            }
        };
        $readings = self::readings(new Database($connection));
        $all = new Select(new Place(0, 0), 'a', null);
        self::assertSame([2_000, 2_001_000.0], self::total($readings->windows($all, self::DAY, self::DAY + 2_000 * 15_000)));
        self::assertSame(1, $asked);
        $asked = 0;
        $buckets = $readings->buckets($all, Tier::FiveMinutes, Detail::Sums, self::DAY, self::DAY + 2_000 * 15_000);
        self::assertNotNull($buckets);
        self::assertSame(2, $asked, 'it was told to begin anew, and did');
        self::assertSame(2_000, array_sum($buckets[0]->counts));
    }

    public function testSealingSurvivesBeingKilledAtAnyMoment(): void
    {
        $database = Instance::emptyDatabase('killed');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        $start = Span::dayOf((int) (microtime(true) * 1000)) - 5 * Span::DAY_MS;
        mt_srand(5);
        for ($i = 0; $i < 3_000; ++$i) {
            $text = '';
            for ($series = 0; $series < 120; ++$series) {
                $text .= "load{cpu=\"{$series}\"} " . mt_rand(0, 999) . "\n";
            }
            $this->write($database, $reader->read($text . "# EOF\n", Form::OpenMetrics, $start + $i * 60_000));
        }
        $readings = self::readings($database);
        $total = static fn(): array => self::total(
            $readings->windows(new Select(new Place(0, 0), 'load', null), $start - 1, $start + 3_000 * 60_000),
        );
        $before = $total();
        self::assertSame(360_000, $before[0]);
        // A part was sealed while its days went on, so there is something to join.
        $sealer = new Sealer($database, new BlockWriter($database));
        foreach (range(1, 8) as $spans) {
            while ($sealer->round($start + $spans * Span::MS + 700_000) > 0) {
            }
        }
        (new DayCloser($database->connection, $sealer, new Partitions($database->connection)))->remember(Span::dayOf($start) - Span::DAY_MS);
        self::assertSame(9, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM block_time'));
        $stateDir = Instance::stateDirFor('killed');
        (new Process([PHP_BINARY, 'bin/console', 'cache:warmup'], dirname(__DIR__, 2), ['OLIVINE_STATE_DIR' => $stateDir]))->mustRun();
        $keeper = static function () use ($stateDir): Process {
            $keeper = new Process([PHP_BINARY, 'bin/console', 'olivine:keeper'], dirname(__DIR__, 2), ['OLIVINE_STATE_DIR' => $stateDir]);
            $keeper->start();

            return $keeper;
        };
        $isDone = static fn(): bool => (int) $database->connection->fetchOne('SELECT COUNT(*) FROM scrape_row') === 0
            && (int) $database->connection->fetchOne("SELECT value FROM setting WHERE name = 'settled_day'") >= $start + 2 * Span::DAY_MS;
        for ($kills = 0; $kills < 40 && !$isDone();) {
            $running = $keeper();
            usleep(mt_rand(120_000, 520_000));
            if ($running->isRunning()) {
                ++$kills;
            }
            $running->stop(0, SIGKILL);
            $database->connection->executeStatement('UPDATE lease SET lease_until = NOW(3)');
            self::assertSame($before, $total(), "after {$kills} kills");
        }
        self::assertGreaterThan(5, $kills);
        // Left alone it gets to the end, and who reads meanwhile does not notice.
        $running = $keeper();
        for ($until = microtime(true) + 60; !$isDone() && microtime(true) < $until;) {
            self::assertSame($before, $total());
        }
        $running->stop(5);
        self::assertTrue($isDone());
        self::assertSame(
            4,
            (int) $database->connection->fetchOne('SELECT COUNT(*) FROM block_time'),
            'joined, too: the first reading belongs to the day before',
        );
        self::assertSame(0, (new CommandTester(new VerifyCommand($database->connection)))->execute([]));
    }

    public function testDaysAreLetGoByTheirPartitionAndNothingElseGoes(): void
    {
        $database = Instance::emptyDatabase('days');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        $partitions = new Partitions($database->connection);
        $day = self::DAY;
        $partitions->cover($day + Span::DAY_MS, $day + 3 * Span::DAY_MS);
        for ($at = $day - Span::DAY_MS + 60_000; $at <= $day + 4 * Span::DAY_MS; $at += 600_000) {
            $this->write($database, $reader->read("a 1\n# EOF\n", Form::OpenMetrics, $at));
        }
        $sealer = new Sealer($database, new BlockWriter($database));
        while ($sealer->round($day + 6 * Span::DAY_MS) > 0) {
        }
        $partitions->cover($day - Span::DAY_MS, $day + 4 * Span::DAY_MS);
        $count = static fn(): int => (int) $database->connection->fetchOne('SELECT SUM(readings) FROM block');
        self::assertSame(720, $count(), 'cutting partitions off loses nothing');
        $names = array_column($partitions->of('block'), 'name');
        self::assertSame($names, array_values(array_unique($names)));
        self::assertSame(5, count($names));
        $partitions->packTight($day + 2 * Span::DAY_MS);
        $partitions->packTight();
        self::assertSame(720, $count(), 'neither does packing them tight');
        self::assertSame(1, $partitions->dropBefore('block', $day + Span::DAY_MS));
        self::assertSame(576, $count(), 'one day is gone, four are there: of the next two, one is to stay');
        self::assertSame(0, $partitions->dropBefore('block', $day + Span::DAY_MS));
        self::assertSame([1, 288], [$partitions->dropBefore('block', $day + 2 * Span::DAY_MS), $count()]);
        self::assertGreaterThan(
            0,
            (int) $database->connection->fetchOne('SELECT COUNT(*) FROM rollup_1h WHERE from_at < ?', [$day]),
            'roll-ups outlive their readings',
        );
        $old = self::readings($database)->buckets(
            new Select(new Place(0, 0), 'a', null),
            Tier::Hour,
            Detail::Sums,
            $day - Span::DAY_MS,
            $day + Span::DAY_MS,
        );
        self::assertSame(
            12 * 24.0,
            array_sum(array_map(static fn(Buckets $buckets): float => array_sum($buckets->sums), $old ?? [])),
            'and still answer',
        );
    }

    /** What Setup says that a choice would drop is what goes, to the byte and the day, and nothing goes that is younger than the choice. */
    public function testWhatWouldBeDroppedIsWhatGoes(): void
    {
        $database = Instance::emptyDatabase('outlook');
        $connection = $database->connection;
        $partitions = new Partitions($connection);
        $writer = new BlockWriter($database);
        $day = self::DAY;
        $now = $day + 11 * Span::DAY_MS + 7 * 3_600_000;
        $partitions->cover($day, $now);
        $reader = new TargetReader($this->target($database, 'gate', 60), new SeriesRegister($database));
        mt_srand(5);
        for ($at = $day + 7_000; $at <= $now; $at += 60_000) {
            $this->write($database, $reader->read(self::text($at - $day), Form::OpenMetrics, $at));
        }
        $sealer = new Sealer($database, $writer);
        while ($sealer->round($now + Span::DAY_MS) > 0) {
        }
        $partitions->packTight();
        $retention = new Retention($connection);
        $letGo = new LetGo($retention, $partitions, new LastRollups($database, $writer));
        $sizes = static fn(): array => (new StoreSizes($connection, $partitions))->work(Instant::ofMs($now))['tiers'][RetentionTier::Readings->value];
        $younger = static fn(int $days): array => (array) $connection->fetchNumeric('SELECT COUNT(*), SUM(readings) FROM block WHERE from_at >= ?', [
            $now - $days * Span::DAY_MS,
        ]);
        $taken = static fn(array $sizes): int => array_sum(
            array_map(static fn(array $one): int => $one['rows'] > 0 ? $one['bytes'] : 0, $sizes['partitions']),
        );
        $wentInAll = 0;
        foreach ([40, 9, 8, 7, 5, 4, 2, 1] as $days) {
            $before = $sizes();
            $outlook = LetGo::outlook($before, $days, $now);
            $kept = $younger($days);
            $retention->keep(['readings' => $days, 'fiveMinutes' => 180, 'hours' => 1_095]);
            while (!$letGo->round($now)['isDone']) {
            }
            $after = $sizes();
            $went = $taken($before) - $taken($after);
            self::assertSame(
                [$went, (int) ceil(($after['fromMs'] - $before['fromMs']) / Span::DAY_MS)],
                [$outlook['droppedBytes'], $outlook['droppedDays']],
                "{$days} days",
            );
            self::assertSame($kept, $younger($days), "nothing of the last {$days} days goes");
            self::assertGreaterThan($now - ($days + 3) * Span::DAY_MS, $after['fromMs'], 'at most what shares a partition with it is kept longer');
            $wentInAll += $outlook['droppedDays'];
        }
        self::assertSame(10, $wentInAll);
        self::assertSame(0, LetGo::outlook($sizes(), 1, $now)['droppedDays']);
    }

    /** A target is asked every 15 s, later every minute; the older readings are let go. What has no roll-ups is still read. */
    public function testReadingsWithoutRollUpsAreNotMissedBesideThoseThatHaveNothingElse(): void
    {
        $database = Instance::emptyDatabase('mixed');
        $reader = new TargetReader($this->target($database, 'gate'), new SeriesRegister($database));
        $start = Span::dayOf(self::DAY);
        for ($at = $start + 15_000; $at <= $start + 4 * Span::MS; $at += $at < $start + 2 * Span::MS ? 15_000 : 60_000) {
            $this->write($database, $reader->read("a 1\n# EOF\n", Form::OpenMetrics, $at));
        }
        $sealer = new Sealer($database, new BlockWriter($database));
        while ($sealer->round($start + 5 * Span::MS) > 0) {
        }
        self::assertSame(
            [4, 2],
            [
                (int) $database->connection->fetchOne('SELECT COUNT(*) FROM block_time'),
                (int) $database->connection->fetchOne('SELECT COUNT(*) FROM rollup_time_5m'),
            ],
        );
        foreach (['block', 'block_time'] as $table) {
            $database->connection->executeStatement("DELETE FROM {$table} WHERE from_at < ?", [$start + 2 * Span::MS]);
        }
        $counts = (new Evaluator(self::readings($database)))->range(Parser::parse('count(a, 5m)'), $start + 300_000, $start + 4 * Span::MS, 300_000)
            ->lines[0]->values;
        self::assertSame(array_fill(0, 95, 5.0), array_slice($counts, -95));
    }
}

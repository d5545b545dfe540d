<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\TargetReader;
use Olivine\App\Platform\Database;
use Olivine\App\Store\BlockWriter;
use Olivine\App\Store\DayCloser;
use Olivine\App\Store\Partitions;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\Sealer;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Span;
use Olivine\App\Store\VerifyCommand;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Series\Window;
use Olivine\Tests\Core\Readings;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Console\Tester\CommandTester;

/**
 * The store beside plain arrays: days of scrapes, series that come and go, late and repeated readings, with sealing
 * and joining whenever. Whatever is asked at any time, both must say the same.
 */
final class StoreModelTest extends TestCase
{
    use OverAStore;

    private const DAY = 10_400 * 2 * Span::DAY_MS;
    private const INTERVAL_S = 60;
    private const HOURS = 76;
    private const METRICS = ['depth', 'jobs_total', 'share_ratio'];
    private const SERIES_OF_EACH = 3;

    private Database $database;
    private Sealer $sealer;
    private DayCloser $closer;
    /** @var array<string, TargetReader> */
    private array $readers = [];
    /** @var array<string, array<string, array{string, array<string, string>}>> target → series as a text has it → metric and labels */
    private array $named = [];
    /** @var array<string, array<string, array<int, float|null>>> target → series → second → value, null where it was not in a scrape */
    private array $model = [];
    /** @var array<string, float> */
    private array $newest = [];
    /** @var list<ScrapeRow> */
    private array $waiting = [];
    private int $asked = 0;

    #[TestWith([1])]
    #[TestWith([2])]
    #[TestWith([3])]
    public function testTheStoreSaysWhatPlainArraysSay(int $seed): void
    {
        mt_srand(1_000 * (int) (getenv('OLIVINE_SEED') ?: 1) + $seed);
        $this->database = Instance::emptyDatabase('model');
        $partitions = new Partitions($this->database->connection);
        $partitions->cover(self::DAY, self::DAY + 5 * Span::DAY_MS);
        $this->sealer = new Sealer($this->database, new BlockWriter($this->database));
        $this->closer = new DayCloser($this->database->connection, $this->sealer, $partitions);
        $this->closer->remember(self::DAY - Span::DAY_MS);
        $register = new SeriesRegister($this->database);
        $targets = [
            'pier' => $this->target($this->database, 'pier', self::INTERVAL_S),
            'quay' => $this->target($this->database, 'quay', self::INTERVAL_S),
        ];
        foreach (array_keys($targets) as $name) {
            foreach (self::METRICS as $metric) {
                for ($i = 0; $i < self::SERIES_OF_EACH; ++$i) {
                    $this->named[$name]["{$metric}{berth=\"{$i}\"}"] = [$metric, ['berth' => (string) $i]];
                }
            }
        }
        $there = [];
        $end = self::DAY + self::HOURS * 3_600_000;
        for ($at = self::DAY + 7_000; $at < $end; $at += self::INTERVAL_S * 1_000) {
            foreach ($targets as $name => $target) {
                // Now and then a target is away for a while, and its reader begins anew.
                if (mt_rand(0, 700) === 0) {
                    $there[$name] = $at + mt_rand(1, 20) * 60_000;
                }
                if ($at < ($there[$name] ?? 0)) {
                    unset($this->readers[$name]);
                    continue;
                }
                $this->readers[$name] ??= new TargetReader($target, $register);
                $this->scrape($name, $at + ($name === 'quay' ? 3_000 : 0));
            }
            if (mt_rand(0, 60) === 0) {
                $this->comesLate($at);
            }
            if (mt_rand(0, 400) === 0) {
                $this->settle($at);
                $this->ask($at, 6);
            }
        }
        $this->settle($end);
        $this->ask($end, 60);
        while ($this->sealer->round($end + 3 * Span::DAY_MS) > 0) {
        }
        while ($this->closer->round($end + 3 * Span::DAY_MS)) {
        }
        self::assertSame(0, (int) $this->database->connection->fetchOne('SELECT COUNT(*) FROM scrape_row'));
        $this->ask($end, 120);
        self::assertSame(0, (new CommandTester(new VerifyCommand($this->database->connection)))->execute([]));
        self::assertGreaterThan(10_000, $this->asked, 'values were there to be told apart');
    }

    private function scrape(string $target, int $atMs): void
    {
        $lines = ['depth' => '# TYPE depth gauge', 'jobs_total' => '# TYPE jobs counter', 'share_ratio' => '# TYPE share_ratio gauge'];
        foreach ($this->named[$target] as $series => [$metric, ['berth' => $berth]]) {
            $key = "{$target} {$series}";
            // A series stays away, or stays there, for some hours, from one span to the next, or for a whole day.
            $hours = [1.5, 4, 24][(int) $berth];
            $isThere = crc32($key . floor($atMs / 3_600_000 / $hours)) % 5 < 3 || $series === 'depth{berth="0"}';
            if ($isThere) {
                $value = $this->next($key, $metric);
                $lines[$metric] .= "\n{$series} " . json_encode($value);
                $this->model[$target][$series][intdiv($atMs, 1_000)] = $value;
            } elseif (isset($this->model[$target][$series])) {
                $this->model[$target][$series][intdiv($atMs, 1_000)] = null;
            }
        }
        array_push($this->waiting, ...$this->readers[$target]->read(implode("\n", $lines) . "\n# EOF\n", Form::OpenMetrics, $atMs));
        if (count($this->waiting) > 60) {
            $this->commit();
        }
    }

    private function commit(): void
    {
        $this->database->transaction(fn() => (new ScrapeWriter($this->database))->insert($this->waiting));
        $this->waiting = [];
    }

    private function next(string $series, string $metric): float
    {
        $last = $this->newest[$series] ?? 40.0;

        return $this->newest[$series] = match ($metric) {
            'jobs_total' => mt_rand(0, 500) === 0 ? 0.0 : $last + mt_rand(0, 12),
            'share_ratio' => mt_rand(0, 30) === 0 ? mt_rand() / mt_getrandmax() : round(mt_rand(0, 1_000) / 1_000, 3),
            default => max(0.0, round($last + mt_rand(-20, 20) / 10, 1)),
        };
    }

    /** Some readings of the last minutes, or of days ago; some of them have been there before. */
    private function comesLate(int $nowMs): void
    {
        $this->commit();
        $rows = [];
        for ($i = mt_rand(1, 6); $i > 0; --$i) {
            $target = array_rand($this->named);
            $series = array_rand($this->named[$target]);
            if (!isset($this->model[$target][$series])) {
                continue;
            }
            $earliest = (int) array_key_first($this->model[$target][$series]);
            $latest = intdiv($nowMs, 1_000);
            $second = mt_rand(0, 3) === 0 ? mt_rand($earliest, $latest) : mt_rand(max($earliest, $latest - 1_800), $latest);
            $second = mt_rand(0, 2) === 0 ? (int) array_rand($this->model[$target][$series]) : $second;
            if (!$this->goesOnAfter($this->model[$target][$series], $second)) {
                continue;
            }
            $value = (float) mt_rand(0, 90);
            $this->model[$target][$series][$second] ??= $value;
            ksort($this->model[$target][$series]);
            $place = $this->database->connection->fetchAssociative(
                'SELECT s.page, s.slot FROM series s JOIN metric m ON m.id = s.metric_id JOIN target t ON t.id = s.target_id
                 WHERE m.name = ? AND t.name = ? AND JSON_VALUE(s.labels, "$.berth") = ?',
                [$this->named[$target][$series][0], $target, $this->named[$target][$series][1]['berth']],
            );
            self::assertIsArray($place);
            $rows[] = new ScrapeRow(
                (int) $place['page'],
                $second * 1_000,
                ScrapeValues::pack([...array_fill(0, (int) $place['slot'], ScrapeValues::silent()), $value]),
            );
        }
        foreach ($rows as $row) {
            (new ScrapeWriter($this->database))->merge([$row]);
        }
    }

    /**
     * What comes late for a series that was away then holds as long as any reading, once it is sealed.
     *
     * @param array<int, float|null> $values
     */
    private function goesOnAfter(array $values, int $second): bool
    {
        foreach ($values as $at => $value) {
            if ($at > $second) {
                return $value !== null;
            }
        }

        return true;
    }

    private function settle(int $nowMs): void
    {
        $this->commit();
        // Not always to the end: what is asked may be half sealed.
        for ($rounds = mt_rand(0, 8); $rounds > 0 && $this->sealer->round($nowMs) > 0; --$rounds) {
        }
        for ($rounds = mt_rand(0, 3); $rounds > 0 && $this->closer->round($nowMs); --$rounds) {
        }
    }

    private function ask(int $nowMs, int $times): void
    {
        $plain = new Readings(Target::STALE_INTERVALS * self::INTERVAL_S * 1_000);
        foreach ($this->model as $target => $ofTarget) {
            foreach ($ofTarget as $series => $values) {
                [$metric, $labels] = $this->named[$target][$series];
                ksort($values);
                $plain->with($metric, $labels + ['target' => $target], $values);
            }
        }
        $stored = self::readings($this->database);
        for (; $times > 0; --$times) {
            $metric = self::METRICS[array_rand(self::METRICS)];
            $after = mt_rand(self::DAY, $nowMs);
            $through = min($nowMs, $after + (int) (3_600_000 * 0.02 * 1.09 ** mt_rand(0, 95)));
            $select = new Select(new Place(0, 0), $metric, null);
            self::assertSame(
                self::present($plain->windows($select, $after, $through)),
                self::present($stored->windows($select, $after, $through)),
                "{$metric} after {$after} through {$through}",
            );
            $this->compare(self::formula($metric), $plain, $stored, $after, $through);
        }
    }

    private static function formula(string $metric): string
    {
        $window = ['5m', '7m', '10m', '1h', '90m', '3h'][mt_rand(0, 5)];
        $function = ['mean', 'min', 'max', 'sum', 'count', 'first', 'last', 'range', 'change', 'growth', 'rate', 'median', 'stddev'][mt_rand(0, 12)];
        $where = ['', ' where berth = "1"', ' where target = "quay"'][mt_rand(0, 2)];
        $over = mt_rand(0, 5) === 0 ? "{$metric}{$where}" : "{$function}({$metric}{$where}, {$window})";

        return match (mt_rand(0, 4)) {
            0 => "sum({$over}) per target",
            1 => "top(2, {$over})",
            2 => "{$over} - ({$over} ago 1h)",
            default => $over,
        };
    }

    private function compare(string $formula, Readings $plain, \Olivine\Core\Formula\ReadingSource $stored, int $from, int $to): void
    {
        $tree = Parser::parse($formula);
        // Now and then on whole buckets, where roll-ups are read.
        $step = [60_000, 300_000, 300_000, 3_600_000, 3_600_000][mt_rand(0, 4)];
        $from = mt_rand(0, 3) === 0 ? $from : intdiv($from, $step) * $step + $step;
        $to = max($from, min($to, $from + 400 * $step));
        $expected = self::values((new Evaluator($plain))->range($tree, $from, $to, $step)->lines);
        $got = self::values((new Evaluator($stored))->range($tree, $from, $to, $step)->lines);
        self::assertSame(array_keys($expected), array_keys($got), "{$formula} from {$from} to {$to} by {$step}");
        foreach ($expected as $key => $values) {
            foreach ($values as $i => $value) {
                $there = $got[$key][$i];
                $isSame = $value === null || $there === null ? $value === $there : abs($value - $there) <= 1e-9 * max(1.0, abs($value));
                self::assertTrue(
                    $isSame,
                    sprintf(
                        '%s of %s at %d by %d: %s, stored %s',
                        $formula,
                        $key,
                        $from + $i * $step,
                        $step,
                        json_encode($value),
                        json_encode($there),
                    ),
                );
                $this->asked += $value === null ? 0 : 1;
            }
        }
    }

    /**
     * @param list<Line> $lines
     *
     * @return array<string, list<float|null>>
     */
    private static function values(array $lines): array
    {
        $values = [];
        foreach ($lines as $line) {
            $values[$line->labels->key()] = $line->values;
        }
        ksort($values);

        return $values;
    }

    /**
     * @param list<Window> $windows
     *
     * @return array<string, array<int, float>> labels → time → value, ends left out
     */
    private static function present(array $windows): array
    {
        $found = [];
        foreach ($windows as $window) {
            foreach ($window->times as $i => $time) {
                if ($window->values[$i] !== null) {
                    $found[$window->labels->key()][$time] = $window->values[$i];
                }
            }
        }
        ksort($found);

        return $found;
    }
}

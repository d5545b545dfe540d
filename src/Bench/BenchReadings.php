<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Database;
use Olivine\App\Store\BlockWriter;
use Olivine\App\Store\PageReadings;
use Olivine\App\Store\Partitions;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Slot;
use Olivine\App\Store\Span;
use Olivine\Core\Exposition\Family;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Time\Instant;

/** Fills an empty database with readings of a known shape, every 15 s. */
final readonly class BenchReadings
{
    public const STEP_MS = 15_000;

    public function __construct(private Database $database)
    {
    }

    /** Sealed days of `depth{queue="q1" …, half="0|1"}`: levels that walk at random between 0 and some hundreds. */
    public function sealed(int $series, int $days, int $end): void
    {
        $from = $end - $days * Span::DAY_MS;
        $queues = range(1, $series);
        $samples = self::samples(
            'depth',
            array_map(static fn(int $i): array => ['queue' => "q{$i}", 'half' => (string) ($i % 2)], $queues),
        );
        $slots = (new SeriesRegister($this->database))->register($this->target('queues'), $samples, $from);
        (new Partitions($this->database->connection))->cover($from, $end + Span::DAY_MS);
        $blocks = new BlockWriter($this->database);
        mt_srand(3);
        $levels = array_fill(0, $series, 100);
        for ($start = $from; $start < $end; $start += Span::DAY_MS) {
            $times = range($start + self::STEP_MS, $start + Span::DAY_MS, self::STEP_MS);
            $columns = [];
            foreach ($samples as $i => $sample) {
                $values = [];
                foreach ($times as $_) {
                    $values[] = (float) ($levels[$i] = max(0, $levels[$i] + mt_rand(-4, 4)));
                }
                $columns[$slots[SeriesRegister::identity($sample)]->series] = $values;
            }
            $page = self::page($slots, $samples[0]);
            $this->database->transaction(static fn() => $blocks->write($page, new PageReadings($times, $columns), [], true));
        }
    }

    /** The newest minutes of a metric on many targets, as the scrape rows they came in. */
    public function fresh(string $metric, int $targets, int $series, int $minutes, int $end): void
    {
        $register = new SeriesRegister($this->database);
        $writer = new ScrapeWriter($this->database);
        $samples = self::samples($metric, array_map(static fn(int $i): array => ['part' => "p{$i}"], range(1, $series)));
        (new Partitions($this->database->connection))->cover($end - $minutes * 60_000, $end + Span::DAY_MS);
        for ($i = 0; $i < $targets; ++$i) {
            $page = self::page($register->register($this->target("{$metric}-{$i}"), $samples, $end - $minutes * 60_000), $samples[0]);
            $rows = [];
            for ($at = $end - $minutes * 60_000 + $i; $at <= $end; $at += self::STEP_MS) {
                $values = array_map(static fn(): float => (float) mt_rand(0, 999), $samples);
                $rows[] = new ScrapeRow($page, $at, ScrapeValues::pack($values));
            }
            $writer->insert($rows);
        }
    }

    /**
     * @param list<array<string, string>> $labels
     *
     * @return non-empty-list<Sample>
     */
    private static function samples(string $metric, array $labels): array
    {
        $family = new Family($metric);
        $family->type = MetricType::Gauge;
        $samples = array_map(
            static fn(array $of): Sample => new Sample($metric, LabelSet::of($of), 0.0, null, $family),
            $labels,
        );

        return $samples === [] ? throw new \LogicException('Readings are of at least one series') : $samples;
    }

    /** @param array<string, Slot> $slots */
    private static function page(array $slots, Sample $sample): int
    {
        return $slots[SeriesRegister::identity($sample)]->page;
    }

    private function target(string $name): Target
    {
        $target = new Target($name, '', Instant::ofMs(0));
        $this->database->connection->insert('target', [
            'name' => $name,
            'url' => '',
            'interval_seconds' => 15,
            'timeout_seconds' => 10,
            'labels' => '{}',
            'paused' => 0,
            'created_at' => 0,
        ]);
        $target->id = (int) $this->database->connection->lastInsertId();

        return $target;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Agent\HostMetrics;
use Olivine\App\Collect\Schedule;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Exposition\TextReader;
use Olivine\Standin\Fleet\Breaks;
use Olivine\Standin\Fleet\Day;
use Olivine\Standin\Fleet\FleetTarget;
use Olivine\Standin\Fleet\Noise;
use Olivine\Standin\Fleet\Scenario;
use Olivine\Standin\Fleet\Signal;
use PHPUnit\Framework\TestCase;

/** The simulated fleet is only worth something if it behaves as real targets do. */
final class FleetTest extends TestCase
{
    private const AT = 1_795_440_000;

    public function testServesFortyTargetsAndMoreInBothForms(): void
    {
        $targets = (new Scenario(7))->targets();
        self::assertGreaterThanOrEqual(40, count($targets));
        $forms = [];
        $types = [];
        foreach ($targets as $target) {
            $form = Form::ofContentType($target->contentType());
            $forms[$form->value] = true;
            $read = TextReader::read($target->text(self::AT, Breaks::none()), $form);
            self::assertGreaterThanOrEqual(30, count($read->samples), $target->name);
            self::assertLessThanOrEqual(300, count($read->samples), $target->name);
            foreach ($read->families as $family) {
                $types[$family->type->value ?? ''] = true;
                self::assertNotSame('', (string) $family->help, "{$target->name}: {$family->name} says what it is");
            }
        }
        self::assertCount(2, $forms);
        foreach (
            [MetricType::Counter, MetricType::Gauge, MetricType::Histogram, MetricType::Summary, MetricType::Info, MetricType::StateSet] as $type
        ) {
            self::assertArrayHasKey($type->value, $types);
        }
    }

    public function testHistoryAndLiveAreTheSameFunctionOfTime(): void
    {
        $one = (new Scenario(7))->targets();
        $other = (new Scenario(7))->targets();
        foreach (['broker-north', 'web-3', 'gate-s2', 'tickets-db', 'edge-1'] as $name) {
            $live = array_map(
                static fn(Sample $sample): float => $sample->value,
                TextReader::read($one[$name]->text(self::AT, Breaks::none()), Form::ofContentType($one[$name]->contentType()))->samples,
            );
            $history = array_map(static fn(Signal $signal): float => ($signal->value)(self::AT, Breaks::none()), $other[$name]->signals());
            self::assertSame($history, $live, $name);
        }
        self::assertNotSame(
            $one['web-1']->text(self::AT, Breaks::none()),
            (new Scenario(8))->targets()['web-1']->text(self::AT, Breaks::none()),
            'another seed is another fleet',
        );
    }

    /** Some of what a second asks for is remembered: in whatever order seconds and signals are asked, none gets the answer of another. */
    public function testTheOrderOfAskingChangesNothing(): void
    {
        mt_srand(4);
        $seconds = array_map(static fn(): int => self::AT + mt_rand(-1_000_000, 1_000_000), range(1, 120));
        $signals = [];
        foreach (['broker-north', 'web-3', 'gate-s2', 'tickets-db', 'edge-1'] as $name) {
            foreach ((new Scenario(7))->targets()[$name]->signals() as $i => $signal) {
                $signals["{$name} {$i}"] = $signal->value;
            }
        }
        $columns = array_map(
            static fn(\Closure $value): array => array_map(static fn(int $second): float => $value($second, Breaks::none()), $seconds),
            $signals,
        );
        foreach (range(1, 20_000) as $_) {
            $name = array_rand($signals);
            $at = mt_rand(0, count($seconds) - 1);
            self::assertSame($columns[$name][$at], $signals[$name]($seconds[$at], Breaks::none()), "{$name} at {$seconds[$at]}");
        }
        foreach ([[12, 300], [12, 15], [99, 300]] as [$seed, $period]) {
            foreach ($seconds as $second) {
                $start = $second - ($second % $period);
                $share = ($second - $start) / $period;
                self::assertEqualsWithDelta(
                    Noise::at($seed, $start, $period) * (1 - $share) + Noise::at($seed, $start + $period, $period) * $share,
                    Noise::at($seed, $second, $period),
                    1e-12,
                    'a straight line between',
                );
            }
        }
    }

    public function testCountersNeverFallOverAWholeWeek(): void
    {
        foreach ((new Scenario(7))->targets() as $target) {
            if (!in_array($target->name, ['broker-north', 'skarn-host-1', 'gate-s2', 'web-1', 'crew-rota-db'], true)) {
                continue;
            }
            foreach (self::counters($target) as $name => $signal) {
                $previous = -INF;
                for ($second = self::AT; $second < self::AT + 8 * 86_400; $second += 613) {
                    $value = ($signal->value)($second, Breaks::none());
                    self::assertGreaterThanOrEqual($previous, $value, "{$target->name} {$name} at {$second}");
                    $previous = $value;
                }
            }
        }
    }

    public function testBusySecondsAreTheIntegralOfActivity(): void
    {
        $sum = 0.0;
        for ($second = self::AT; $second < self::AT + 7 * 86_400; $second += 60) {
            self::assertGreaterThan(0.1, Day::activity($second));
            $sum += 60 * Day::activity($second + 30);
        }
        self::assertEqualsWithDelta(1.0, $sum / (Day::busySeconds(self::AT + 7 * 86_400) - Day::busySeconds(self::AT)), 1e-4);
    }

    /** What the demo's history tells, and why tests let the fleet live on a Friday. */
    public function testEachTroubleHasItsDayAndFridaysAreCalm(): void
    {
        $targets = (new Scenario(7))->targets();
        $read = static function (string $target, string $family, array $labels, int $second) use ($targets): float {
            foreach ($targets[$target]->families as $one) {
                foreach ($one->name === $family ? $one->signals : [] as $signal) {
                    if (array_intersect_assoc($labels, $signal->labels) === $labels) {
                        return ($signal->value)($second, Breaks::none());
                    }
                }
            }
            self::fail("{$target} has no {$family}");
        };
        $troubles = [
            'queue' => static fn(int $at): bool => max(
                $read('broker-north', 'messaging_queue_depth', ['queue' => 'boarding'], $at),
                $read('broker-south', 'messaging_queue_depth', ['queue' => 'boarding'], $at),
            ) > 400,
            'leak' => static fn(int $at): bool => $read('gate-s2', 'container_memory_usage_bytes', [], $at) >
                0.9 * $read('gate-s2', 'container_memory_limit_bytes', [], $at),
            'hot' => static fn(int $at): bool => $read('web-3', 'system_cpu_utilization_ratio', [], $at) > 0.72,
            'flapping' => static fn(int $at): bool => $read('skarn-host-1', 'system_network_errors', ['direction' => 'receive'], $at) >
                $read('skarn-host-1', 'system_network_errors', ['direction' => 'receive'], $at - 300) + 60,
            'backup' => static fn(int $at): bool => $at - $read('backup-host', 'backup_last_success_timestamp_seconds', [], $at) > 28 * 3_600,
        ];
        // Midnight before some Monday.
        $monday = intdiv(self::AT, 86_400) * 86_400;
        $monday -= ((Day::weekday($monday) + 6) % 7) * 86_400;
        $found = [];
        foreach (['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as $i => $day) {
            $found[$day] = array_keys(
                array_filter(
                    $troubles,
                    static fn(callable $isOn): bool => array_filter(range($monday + $i * 86_400, $monday + $i * 86_400 + 86_399, 300), $isOn) !== [],
                ),
            );
        }
        self::assertSame(
            [
                'Mon' => ['backup'],
                'Tue' => ['queue', 'backup'],
                'Wed' => ['leak'],
                'Thu' => ['hot'],
                'Fri' => [],
                'Sat' => ['queue'],
                'Sun' => ['flapping'],
            ],
            $found,
        );
    }

    public function testABacklogGrowsWhileBrokenAndDrainsOnceMended(): void
    {
        $breaks = Breaks::none();
        $breaks->start('queue', 'broker-north', self::AT);
        self::assertSame(
            [0.0, 600.0, 6_000.0],
            [
                $breaks->backlog('broker-north', self::AT),
                $breaks->backlog('broker-north', self::AT + 10),
                $breaks->backlog('broker-north', self::AT + 1_000),
            ],
        );
        self::assertSame(0.0, $breaks->backlog('broker-south', self::AT + 10));
        $breaks->heal('queue', 'broker-north', self::AT + 50);
        self::assertSame(
            [3_000.0, 1_000.0, 0.0],
            [
                $breaks->backlog('broker-north', self::AT + 50),
                $breaks->backlog('broker-north', self::AT + 55),
                $breaks->backlog('broker-north', self::AT + 90),
            ],
        );
    }

    public function testTheHostAgentTellsOfThisMachine(): void
    {
        $agent = new HostMetrics('/proc', '/sys');
        $first = self::values($agent->text());
        $second = self::values($agent->text());
        foreach (
            [
                'system_cpu_time_seconds_total',
                'system_memory_usage_bytes',
                'system_filesystem_usage_bytes',
                'system_network_io_bytes_total',
                'system_process_count',
                'system_load_average',
                'system_paging_usage_bytes',
            ] as $metric
        ) {
            self::assertNotSame([], array_filter(array_keys($first), static fn(string $key): bool => str_starts_with($key, $metric . '{')), $metric);
        }
        foreach ($first as $key => $value) {
            if (str_contains($key, 'system_cpu_time_seconds_total') && !str_contains($key, 'iowait') && isset($second[$key])) {
                self::assertGreaterThanOrEqual($value, $second[$key], $key);
            }
        }
        $memory = array_sum(
            array_filter($first, static fn(string $key): bool => str_starts_with($key, 'system_memory_usage_bytes{'), ARRAY_FILTER_USE_KEY),
        );
        self::assertEqualsWithDelta(1.0, $memory / $first['system_memory_limit_bytes{'], 0.05, 'the parts of memory add up to the whole');
    }

    public function testScrapesSpreadEvenlyAndKeepTheirRhythm(): void
    {
        $places = [];
        for ($i = 0; $i < 2_000; ++$i) {
            $place = Schedule::placeMs("target-{$i}", 15_000);
            self::assertGreaterThanOrEqual(0, $place);
            self::assertLessThan(15_000, $place);
            $places[intdiv($place, 1_000)] = ($places[intdiv($place, 1_000)] ?? 0) + 1;
        }
        self::assertGreaterThan(90, min([PHP_INT_MAX, ...$places]));
        self::assertLessThan(180, max([0, ...$places]));
        $due = [];
        $schedule = new Schedule();
        $from = self::AT * 1_000;
        $schedule->keep([1 => ['web-1', 15_000], 2 => ['web-2', 60_000]], $from);
        for ($now = $from; $now < $from + 120_000; $now += 50) {
            foreach ($schedule->due($now, 10) as $id => $at) {
                self::assertEqualsWithDelta($now, $at, 50);
                $due[$id][] = $now;
            }
        }
        self::assertCount(8, $due[1]);
        self::assertCount(2, $due[2]);
        foreach ($due[1] as $i => $at) {
            self::assertSame($due[1][0] + $i * 15_000, $at);
        }
        $late = new Schedule();
        $late->keep([1 => ['web-1', 15_000]], $due[1][0] - 60);
        self::assertSame([], $late->due($due[1][0] - 60, 10));
        self::assertCount(1, $late->due($due[1][0] + 40_000, 10), 'what was missed is made up for once');
        self::assertSame([], $late->due($due[1][0] + 40_100, 10));
        $late->keep([1 => ['web-1', 5_000]], $due[1][0] + 40_100);
        self::assertCount(1, $late->due($due[1][0] + 45_200, 10), 'a new interval holds at once');
        $late->keep([], $due[1][0] + 50_000);
        self::assertSame([], $late->due($due[1][0] + 90_000, 10), 'who is gone is not due');
    }

    /** @return array<string, Signal> */
    private static function counters(FleetTarget $target): array
    {
        $counters = [];
        foreach ($target->families as $family) {
            if ($family->type === 'counter') {
                foreach ($family->signals as $signal) {
                    $counters[$family->name . json_encode($signal->labels)] = $signal;
                }
            }
        }

        return $counters;
    }

    /** @return array<string, float> */
    private static function values(string $text): array
    {
        $values = [];
        foreach (TextReader::read($text, Form::OpenMetrics)->samples as $sample) {
            $values[$sample->name . '{' . $sample->labels->key()] = $sample->value;
        }

        return $values;
    }
}

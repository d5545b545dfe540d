<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/**
 * A chart tells what anybody can work out from the readings that were taken out as a file: rows, blocks and roll-ups on
 * the one side, plain text and the command line on the other, over a span that has all three.
 */
final class AgreementTest extends TestCase
{
    private const HOUR_MS = 3_600_000;

    /**
     * @return iterable<string, array{string, list<string>, int, int, int, 5?: int}> formula, what to take out, interval of its
     *     targets, hours shown, points, hours before that are looked at
     */
    public static function formulas(): iterable
    {
        $queue = ['messaging_queue_depth'];
        $boarding = ['messaging_queue_depth where queue = "boarding"'];
        $memory = ['container_memory_usage_bytes', 'container_memory_limit_bytes'];
        $busy = ['system_cpu_time_seconds_total where host like "web-*"'];
        $bucket = ['http_server_request_duration_seconds_bucket where host like "web-*"'];
        yield 'the newest reading' => ['messaging_queue_depth where queue = "boarding"', $queue, 15, 4, 240];
        yield 'a filter of every kind' => [
            'messaging_queue_depth where queue like "b*" and not (broker matches ".*south" or site in ("nowhere", "skarn"))',
            $queue,
            15,
            4,
            240,
        ];
        yield 'over five minutes' => ['mean(messaging_queue_depth, 5m)', $queue, 15, 4, 240];
        yield 'over hours, in steps that roll-ups know' => ['max(messaging_queue_depth where queue = "boarding", 1h)', $boarding, 15, 26, 26, 2];
        yield 'the smallest over five minutes of a day' => ['min(messaging_queue_depth where queue = "boarding", 5m)', $boarding, 15, 26, 312];
        yield 'a sum and a count, by roll-ups' => [
            'sum(messaging_queue_depth where queue = "boarding", 1h) / count(messaging_queue_depth where queue = "boarding", 1h)',
            $boarding,
            15,
            26,
            26,
            2,
        ];
        yield 'a quantile' => ['quantile(0.9, messaging_queue_depth, 15m)', $queue, 15, 4, 240];
        yield 'the spread of many, over time' => ['stddev(messaging_queue_depth, 10m) + range(messaging_queue_depth, 10m)', $queue, 15, 4, 240];
        yield 'a straight line ahead' => [
            'forecast(messaging_queue_depth where queue = "boarding", 1h, 2h) - slope(messaging_queue_depth where queue = "boarding", 2h)',
            $boarding,
            15,
            4,
            48,
            3,
        ];
        yield 'an earlier hour beside this one' => [
            'mean(messaging_queue_depth, 5m) - (mean(messaging_queue_depth, 5m)) ago 2h',
            $queue,
            15,
            4,
            240,
            3,
        ];
        yield 'across series, by a label' => ['sum(messaging_queue_depth) per queue', $queue, 15, 4, 240];
        yield 'across series, without a label' => ['mean(messaging_queue_depth) dropping queue, destination', $queue, 15, 4, 240];
        yield 'the three longest' => ['top(3, messaging_queue_depth)', $queue, 15, 4, 60];
        yield 'two sides that pair' => ['mean(container_memory_usage_bytes, 2m) / container_memory_limit_bytes > 40%', $memory, 60, 4, 240];
        yield 'the odd one' => ['outlier(container_memory_usage_bytes) per service', $memory, 60, 4, 240];
        yield 'how unusual' => ['deviation(container_memory_usage_bytes, mad, 6h)', $memory, 60, 4, 48, 7];
        yield 'what is usual' => ['baseline(mean(container_memory_usage_bytes, 10m), median, 6h)', $memory, 60, 4, 24, 7];
        yield 'growth of a counter' => ['growth(system_cpu_time_seconds_total where host like "web-*", 5m)', $busy, 30, 4, 240];
        yield 'growth an hour, by roll-ups' => ['growth(system_cpu_time_seconds_total where host like "web-*", 1h)', $busy, 30, 26, 26, 2];
        yield 'the highest rate within an hour' => ['max(rate(system_cpu_time_seconds_total where host like "web-*", 5m), 1h)', $busy, 30, 4, 24, 3];
        yield 'how long nineteen in twenty wait' => [
            'percentile(95, http_server_request_duration_seconds where host like "web-*", 5m) per service',
            $bucket,
            30,
            1,
            30,
        ];
        yield 'the share that is quick' => [
            'share_below(0.3, http_server_request_duration_seconds where host like "web-*", 15m)',
            $bucket,
            30,
            1,
            30,
        ];
        yield 'how old' => ['age(messaging_queue_depth) default 0', $queue, 15, 2, 120];
        yield 'hours and days' => ['messaging_queue_depth * (hour("Europe/Lisbon") >= 7 and weekday("Europe/Lisbon") < 6)', $queue, 15, 4, 240];
    }

    /** @param list<string> $selections */
    #[DataProvider('formulas')]
    public function testAChartSaysWhatTheFileSays(
        string $formula,
        array $selections,
        int $interval,
        int $hours,
        int $points,
        int $hoursBefore = 1,
    ): void {
        static $client = null;
        $client ??= new Client('viewer@saltmarsh.example');
        // History is there as blocks and roll-ups, what came since the start as rows. The very newest is still coming in.
        $to = (int) floor(microtime(true)) * 1000 - 30_000;
        $from = $to - $hours * self::HOUR_MS;
        [$status, $chart, $text] = $client->send(
            'GET',
            '/api/chart?' . http_build_query(['formula' => $formula, 'from' => $from, 'to' => $to, 'points' => $points]),
        );
        self::assertSame(200, $status, $text);
        self::assertNotSame([], $chart['lines'], 'there is something to compare');

        $file = tempnam(sys_get_temp_dir(), 'olivine-agreement');
        try {
            foreach ($selections as $selection) {
                $out = $client->send(
                    'GET',
                    '/api/export?' .
                        http_build_query([
                            'formula' => $selection,
                            'from' => $from - $hoursBefore * self::HOUR_MS,
                            'to' => $to,
                            'as' => 'openmetrics',
                        ]),
                )[2];
                self::assertStringEndsWith("# EOF\n", $out);
                file_put_contents($file, substr($out, 0, -6), FILE_APPEND);
            }
            file_put_contents($file, "# EOF\n", FILE_APPEND);
            $last = $chart['first'] + (count($chart['lines'][0]['values']) - 1) * $chart['step'];
            $command = new Process(
                [
                    PHP_BINARY,
                    '-d',
                    'memory_limit=1G',
                    'bin/console',
                    'olivine:formula',
                    'eval',
                    "--data={$file}",
                    "--interval={$interval}",
                    '--from=' . $chart['first'] / 1000,
                    '--to=' . $last / 1000,
                    '--step=' . $chart['step'] / 1000,
                    '--',
                    $formula,
                ],
                dirname(__DIR__, 2),
                null,
                null,
                120.0,
            );
            $command->run();
            $told = json_decode($command->getOutput(), true, 64);
            self::assertTrue($told['ok'] ?? false, $command->getOutput() . $command->getErrorOutput());
        } finally {
            unlink($file);
        }
        self::assertSame($chart['unit'], $told['unit']);
        self::assertSameLines(self::byLabels($told['series']), self::byLabels($chart['lines']), $chart['first'], $chart['step']);
    }

    /**
     * @param array<string, list<float|null>> $expected
     * @param array<string, list<float|null>> $drawn
     */
    private static function assertSameLines(array $expected, array $drawn, int $firstMs, int $stepMs): void
    {
        self::assertSame(array_keys($expected), array_keys($drawn));
        foreach ($expected as $labels => $values) {
            foreach ($values as $i => $value) {
                $what = sprintf('%s at %s', $labels, gmdate('H:i:s', intdiv($firstMs + $i * $stepMs, 1000)));
                if ($value === null || $drawn[$labels][$i] === null) {
                    self::assertSame($value, $drawn[$labels][$i], $what);
                } else {
                    self::assertEqualsWithDelta($value, $drawn[$labels][$i], 1e-9 * max(1.0, abs($value)), $what);
                }
            }
        }
    }

    /**
     * What is not finite has no place in a chart.
     *
     * @param list<array{labels: array<string, string>, values: list<float|string|null>}> $series
     *
     * @return array<string, list<float|null>>
     */
    private static function byLabels(array $series): array
    {
        $lines = [];
        foreach ($series as $one) {
            ksort($one['labels']);
            $lines[json_encode($one['labels'], JSON_THROW_ON_ERROR)] = array_map(
                static fn(float|int|string|null $value): ?float => is_string($value) || $value === null ? null : (float) $value,
                $one['values'],
            );
        }
        ksort($lines);

        return array_filter(
            $lines,
            static fn(array $values): bool => array_filter($values, static fn(?float $value): bool => $value !== null) !== [],
        );
    }
}

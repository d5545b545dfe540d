<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\FewAnswers;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\WorkTime;
use Olivine\App\Store\MetricCatalogue;
use Olivine\App\Store\MetricsApi;
use Olivine\App\Store\Retention;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\Span;
use Olivine\App\Store\StoredReadings;
use Olivine\App\Store\StoredRollups;
use Olivine\App\Store\UsualBand;
use Olivine\App\Store\WhyNothing;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Parser;
use Symfony\Component\Cache\Adapter\ArrayAdapter;
use Symfony\Component\Cache\Adapter\NullAdapter;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorage;

/**
 * Charts over what is stored, by the API's own method (no web server between): a day of 50 series at 15 s, against
 * the same readings out of a plain (series, time, value) table; a month of 100 series hour by hour; one metric of
 * 2,000 series at one instant.
 */
final readonly class QueryMeasure implements Measure
{
    private const SERIES = 100;
    private const DAYS = 30;
    private const WIDE_TARGETS = 100;
    private const WIDE_SERIES = 20;

    public function __construct(private BenchDatabase $server)
    {
    }

    public function name(): string
    {
        return 'query';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $connection = $database->connection;
            $end = Span::dayOf((int) (microtime(true) * 1000));
            $stored = new BenchReadings($database);
            $stored->sealed(self::SERIES, self::DAYS, $end);
            $stored->fresh('wide', self::WIDE_TARGETS, self::WIDE_SERIES, 6, $end);
            $index = new SeriesIndex($connection);
            $readings = new StoredReadings($connection, $index, new StoredRollups($connection));
            $evaluator = new Evaluator($readings);
            $catalogue = new MetricCatalogue($connection, $index);
            $api = new MetricsApi(
                $catalogue,
                $index,
                $evaluator,
                new Checker($catalogue),
                new WhyNothing($connection, $index, new Retention($connection)),
                new UsualBand($evaluator, static fn(): \DateTimeZone => new \DateTimeZone('UTC')),
                new Retention($connection),
                new ArrayAdapter(),
                new FewAnswers(new NullAdapter()),
                new HeavyWork(new WorkTime(), new TokenStorage(), sys_get_temp_dir() . '/olivine-bench'),
            );
            $chart = static fn(string $formula, int $fromMs, int $toMs, int $points): int => strlen(
                (string) $api
                    ->chart(new Request(['formula' => $formula, 'from' => $fromMs, 'to' => $toMs, 'points' => $points]))
                    ->getContent(),
            );

            [$day, $plain, $ratio] = Rate::sideBySide(
                static fn(): int => $chart('depth where half = "1"', $end - Span::DAY_MS, $end, 700),
                $this->plainDay($connection, $end),
            );
            $say('query.day', $day, 'ms');
            $say('query.day_baseline_plain_table', $plain, 'ms');
            $say('query.day_ratio', $ratio, 'x');
            $say(
                'query.month',
                Rate::milliseconds(
                    static fn(): int => $chart('mean(depth, 1h)', $end - self::DAYS * Span::DAY_MS, $end, self::DAYS * 24),
                ),
                'ms',
            );
            $wide = Parser::parse('mean(wide, 5m)');
            $say(
                'query.wide',
                Rate::milliseconds(static fn(): int => count($evaluator->range($wide, $end, $end, 1)->lines)),
                'ms',
            );
        });
    }

    /** @return \Closure(): int what any reader of such a table must do: fetch the readings, take the newest at each of its instants, write JSON */
    private function plainDay(Connection $connection, int $end): \Closure
    {
        $connection->executeStatement(
            'CREATE TABLE plain_day (series INT UNSIGNED NOT NULL, at BIGINT NOT NULL, value DOUBLE NOT NULL, PRIMARY KEY (series, at)) ENGINE=InnoDB',
        );
        mt_srand(4);
        for ($series = 1; $series <= 50; ++$series) {
            foreach (
                array_chunk(range($end - Span::DAY_MS + BenchReadings::STEP_MS, $end, BenchReadings::STEP_MS), 2_000) as $times
            ) {
                $connection->executeStatement(
                    'INSERT INTO plain_day VALUES ' .
                        implode(
                            ', ',
                            array_map(static fn(int $at): string => "({$series}, {$at}, " . mt_rand(0, 999) . ')', $times),
                        ),
                );
            }
        }

        return static function () use ($connection, $end): int {
            $lines = [];
            $rows = $connection->executeQuery(
                'SELECT series, at, value FROM plain_day WHERE series IN (?) AND at > ? AND at <= ? ORDER BY series, at',
                [range(1, 50), $end - Span::DAY_MS, $end],
                [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
            );
            foreach ($rows->iterateNumeric() as [$series, $at, $value]) {
                $lines[Scalar::int($series)][intdiv(Scalar::int($at), 180_000)] = Scalar::float($value);
            }

            return strlen(json_encode($lines, JSON_THROW_ON_ERROR));
        };
    }
}

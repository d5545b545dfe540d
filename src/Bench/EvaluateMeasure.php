<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Time\Instant;

/**
 * One rule over 100,000 series, instant after instant, as the evaluator goes on once it has caught up: the readings are
 * read, the mean of 5 min of each series is judged, and every alert lives on in memory.
 */
final readonly class EvaluateMeasure implements Measure
{
    private const TARGETS = 500;
    private const SERIES = 200;
    private const MINUTES = 10;
    private const SETTLING = 3;

    public function __construct(private BenchDatabase $server)
    {
    }

    public function name(): string
    {
        return 'evaluate';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $end = intdiv((int) (microtime(true) * 1000), BenchReadings::STEP_MS) * BenchReadings::STEP_MS;
            (new BenchReadings($database))->fresh('load', self::TARGETS, self::SERIES, self::MINUTES, $end);
            $engine = BenchRules::engine($database);
            // Values lie between 0 and 999, so their means are near 500, and few are past this for long.
            $rule = BenchRules::above('mean(load, 5m)', 650.0);
            $at = Instant::ofMs($end - self::MINUTES * 30_000);
            $outcome = new Outcome([], [], $at);
            $next = static function () use ($engine, $rule, $database, &$outcome): int {
                $first = $outcome->through->plus($rule->step);
                $outcome = $database->snapshot(
                    static fn(): Outcome => $engine->part($rule, $outcome->alerts, $first, $first),
                );

                return count($outcome->alerts);
            };
            for ($i = 0; $i < self::SETTLING; ++$i) {
                $next();
            }
            $say('evaluate.alerts_per_s', Rate::of($next), '/s');
            $say('evaluate.series', count($outcome->alerts), '');
            $say('evaluate.peak_memory', memory_get_peak_usage() / 1_048_576, 'MB');
        });
    }
}

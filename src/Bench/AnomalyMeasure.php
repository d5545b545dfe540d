<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Store\Span;
use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Way;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** An instant of a rule that holds many series against what they usually are, a fortnight behind each, as it looks on. */
final readonly class AnomalyMeasure implements Measure
{
    private const SERIES = 300;
    private const DAYS = 15;
    /** Over so many instants what is usual changes twice. */
    private const INSTANTS = 80;

    public function __construct(private BenchDatabase $server)
    {
    }

    public function name(): string
    {
        return 'anomaly';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $end = Span::dayOf((int) (microtime(true) * 1000));
            (new BenchReadings($database))->sealed(self::SERIES, self::DAYS, $end);
            $engine = BenchRules::engine($database);
            $baseline = Baseline::ofPast(BaselineMethod::Median, Duration::ofDays(14), Duration::ofDays(1));
            $limits = new Limits(Side::Above, [new Level(Severity::Major, 5)], 3);
            $rule = BenchRules::of('mean(depth, 5m)', new Departure($baseline, Way::Moves, $limits, 20));
            $outcome = new Outcome([], [], Instant::ofMs($end)->minus(Duration::ofHours(2)));
            $look = static function () use ($engine, $rule, $database, &$outcome): float {
                $next = $outcome->through->plus($rule->step);
                $began = hrtime(true);
                $outcome = $database->snapshot(static fn(): Outcome => $engine->part($rule, $outcome->alerts, $next, $next));

                return (hrtime(true) - $began) / 1e6;
            };
            $say('evaluate.anomaly_first', $look(), 'ms');
            $sum = $worst = 0.0;
            for ($i = 0; $i < self::INSTANTS; ++$i) {
                $took = $look();
                $sum += $took;
                $worst = max($worst, $took);
            }
            $say('evaluate.anomaly', $sum / self::INSTANTS, 'ms');
            $say('evaluate.anomaly_worst', $worst, 'ms');
            $say('evaluate.anomaly_series', count($outcome->alerts), '');
            $say('evaluate.anomaly_memory', memory_get_peak_usage() / 1_048_576, 'MB');
        });
    }
}

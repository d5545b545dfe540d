<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Store\Span;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What a rule would have raised over a week of a few series, and over a month of many, every 15 s. */
final readonly class ReplayMeasure implements Measure
{
    private const SERIES = 100;
    private const DAYS = 30;
    private const LIMITS = 40;

    public function __construct(private BenchDatabase $server)
    {
    }

    public function name(): string
    {
        return 'replay';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $end = Span::dayOf((int) (microtime(true) * 1000));
            (new BenchReadings($database))->sealed(self::SERIES, self::DAYS, $end);
            $engine = BenchRules::engine($database);
            $transitions = 0;
            $replay = static function (string $formula, int $days) use ($engine, $end, &$transitions): void {
                $to = Instant::ofMs($end);
                $outcome = $engine->run(BenchRules::above($formula, 250.0), [], $to->minus(Duration::ofDays($days)), $to);
                $transitions = count($outcome->transitions);
            };
            $few = 'mean(depth where queue in ("q1", "q2", "q3", "q4", "q5", "q6"), 5m)';
            $say('replay.week', Rate::milliseconds(static fn() => $replay($few, 7)), 'ms');
            $say('replay.week_transitions', $transitions, '');
            $rules = array_map(static fn(int $i): Rule => BenchRules::above($few, 100.0 + 10 * $i), range(0, self::LIMITS - 1));
            // One formula for all, as a sweep has it.
            $rules = array_map(static fn(Rule $rule): Rule => $rules[0]->with(condition: $rule->condition), $rules);
            $to = Instant::ofMs($end);
            $say('replay.sweep', Rate::milliseconds(static fn() => $engine->sweep($rules, $to->minus(Duration::ofDays(7)), $to)), 'ms');
            $say('replay.month', Rate::milliseconds(static fn() => $replay('mean(depth, 5m)', self::DAYS)), 'ms');
            $say('replay.month_transitions', $transitions, '');
        });
    }
}

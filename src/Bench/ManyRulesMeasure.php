<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Rule\AlertStates;
use Olivine\App\Rule\RuleProgress;
use Olivine\App\Rule\Transitions;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Time\Instant;

/**
 * Five thousand rules over two series each, instant after instant, as the evaluator goes on: each is read, judged, and kept with how
 * far it is in a transaction of its own. They keep their step of 15 s where a round of all of them takes less.
 */
final readonly class ManyRulesMeasure implements Measure
{
    private const RULES = 5_000;
    private const TARGETS = 100;
    private const SERIES = 50;
    private const MINUTES = 10;
    private const ROUNDS = 3;

    public function __construct(private BenchDatabase $server)
    {
    }

    public function name(): string
    {
        return 'rules';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $end = intdiv((int) (microtime(true) * 1000), BenchReadings::STEP_MS) * BenchReadings::STEP_MS;
            (new BenchReadings($database))->fresh('load', self::TARGETS, self::SERIES, self::MINUTES, $end);
            $engine = BenchRules::engine($database);
            $states = new AlertStates($database, new Transitions($database));
            $rules = array_map(self::rule(...), range(0, self::RULES - 1));
            $at = Instant::ofMs($end - self::MINUTES * 30_000);
            $outcomes = array_fill(0, self::RULES, new Outcome([], [], $at));
            $rounds = [];
            for ($round = 0; $round < self::ROUNDS; ++$round) {
                $began = hrtime(true);
                foreach ($rules as $i => $rule) {
                    $first = $outcomes[$i]->through->plus($rule->step);
                    $before = $outcomes[$i]->alerts;
                    $outcomes[$i] = $database->snapshot(static fn(): Outcome => $engine->part($rule, $before, $first, $first));
                    $states->save($i + 1, $i + 1, $before, $outcomes[$i], new RuleProgress($first, RuleProgress::hash($rule)));
                }
                $rounds[] = (hrtime(true) - $began) / 1e9;
            }
            $say('evaluate.rules', self::RULES, '');
            $say('evaluate.rules_round_first', $rounds[0], 's');
            $say('evaluate.rules_round', min(INF, ...array_slice($rounds, 1)), 's');
        });
    }

    /**
     * @throws FormulaError
     * @throws BadRule
     */
    private static function rule(int $i): Rule
    {
        $target = $i % self::TARGETS;
        $part = 1 + intdiv($i, self::TARGETS) % (self::SERIES - 1);
        $next = $part + 1;

        return BenchRules::above("mean(load where target = \"load-{$target}\" and part in (\"p{$part}\", \"p{$next}\"), 5m)", 650.0);
    }
}

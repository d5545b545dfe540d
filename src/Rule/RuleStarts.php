<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Answer\RuleStart;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Store\Answer\Metric;
use Olivine\App\Store\MetricCatalogue;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Time\Duration;

/** What people watch most here: the metrics that most rules look at, and after these what most series tell of. */
final readonly class RuleStarts
{
    private const MOST = 9;
    private const SECONDS = 8.0;
    private const OWN = 'olivine_';
    private const LOOK_EVERY_MINUTES = 15;
    private const USUAL_SHARE = 0.9;
    /** Of a counter only its growth means something. */
    private const COUNTER = 'counter';
    private const GAUGE = 'gauge';

    public function __construct(
        private RuleRepository $rules,
        private RuleDefinitions $definitions,
        private MetricCatalogue $catalogue,
        private Evaluator $evaluator,
        private Checker $checker,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @return list<RuleStart>
     *
     * @throws Problem where too much is under way already
     */
    public function all(): array
    {
        $watched = $this->watched();
        $metrics = array_filter(
            $this->catalogue->all(),
            static fn(Metric $metric): bool => in_array($metric->type, [self::COUNTER, self::GAUGE], true) && !str_starts_with($metric->name, self::OWN),
        );
        usort(
            $metrics,
            static fn(Metric $a, Metric $b): int => [$watched[$b->name] ?? 0, $b->series] <=> [$watched[$a->name] ?? 0, $a->series],
        );

        return $this->heavy->within(self::SECONDS, fn(): array => array_map(
            fn(Metric $metric): RuleStart => $this->start($metric, $watched[$metric->name] ?? 0),
            array_slice($metrics, 0, self::MOST),
        ));
    }

    /**
     * @return array<string, int> metric → how many rules look at it
     */
    private function watched(): array
    {
        $watched = [];
        foreach ($this->rules->byName() as $rule) {
            try {
                $selections = Tree::selections(Parser::parse($this->definitions->of($rule->inService)->formula));
            } catch (FormulaError) {
                continue;
            }
            foreach (array_unique(array_column($selections, 'metric')) as $metric) {
                $watched[$metric] = ($watched[$metric] ?? 0) + 1;
            }
        }

        return $watched;
    }

    private function start(Metric $metric, int $rules): RuleStart
    {
        $formula = $metric->type === self::COUNTER ? "rate({$metric->name}, 5m)" : "mean({$metric->name}, 5m)";
        $now = $values = [];
        $unit = $metric->unit;
        try {
            $tree = Parser::parse($formula);
            $unit = $this->checker->unitOf($tree);
            $step = Duration::ofMinutes(self::LOOK_EVERY_MINUTES);
            $at = $this->clock->now();
            $through = $at->onStep($step);
            $lines = $this->evaluator->range($tree, $through->minus(Duration::ofDays(1))->ms, $through->ms, $step->ms)->lines;
            $last = $this->evaluator->range($tree, $at->ms, $at->ms, 1)->lines;
            $now = self::finite(array_map(static fn(Line $line): ?float => $line->values[0], $last));
            $values = self::finite(array_merge(...array_column($lines, 'values'), ...[[]]));
        } catch (FormulaError|TooMuchToRead) {
            // It is offered all the same, without its values.
        }
        $tail = (1 - self::USUAL_SHARE) / 2;

        return new RuleStart(
            formula: $formula,
            help: $metric->help,
            highest: $now === [] ? null : max($now),
            lowest: $now === [] ? null : min($now),
            metric: $metric->name,
            rules: $rules,
            series: $metric->series,
            unit: $unit,
            usualFrom: $values === [] ? null : Spread::quantile($tail, $values),
            usualTo: $values === [] ? null : Spread::quantile(1 - $tail, $values),
        );
    }

    /**
     * @param array<float|null> $values
     *
     * @return list<float>
     */
    private static function finite(array $values): array
    {
        return array_values(array_filter($values, static fn(?float $value): bool => $value !== null && is_finite($value)));
    }
}

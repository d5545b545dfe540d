<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Answer\Starter;
use Olivine\App\Rule\Definition\ConditionFields;
use Olivine\App\Rule\Definition\ForecastFields;
use Olivine\App\Rule\Definition\LimitFields;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\ThresholdFields;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Series\Quantity;
use Olivine\Core\Time\Duration;

/** The starter rules that fit what is watched here, their limits from the history of just that. */
final readonly class Starters
{
    private const SECONDS = 15.0;
    private const DAYS = 7;
    private const LOOK_EVERY_MINUTES = 60;
    /** A peak of a few hours is no ground for a limit. */
    private const NEARLY_ALL = 0.99;
    private const DIGITS = 2;
    private const DAY_SECONDS = 86_400;

    public function __construct(
        private SeriesIndex $index,
        private RuleRepository $rules,
        private RuleDefinitions $definitions,
        private Evaluator $evaluator,
        private Checker $checker,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @return list<Starter>
     *
     * @throws Problem where too much is under way already
     */
    public function all(): array
    {
        $watched = $this->watched();

        return $this->heavy->within(
            self::SECONDS,
            fn(): array => array_values(
                array_filter(array_map(fn(StarterKind $kind): ?Starter => $this->starter($kind, $watched), StarterKind::cases())),
            ),
        );
    }

    /** @param list<string> $watched what rules look at, each as the names of metrics */
    private function starter(StarterKind $kind, array $watched): ?Starter
    {
        try {
            $tree = Parser::parse($kind->formula());
            foreach (Tree::selections($tree) as $selection) {
                $metric = $selection->metric;
                if ($this->index->ofMetric($metric) === [] && $this->index->ofMetric("{$metric}_bucket") === []) {
                    return null;
                }
            }
            $unit = $this->checker->unitOf($tree);
            [$limit, $because] = $this->limit($kind, $tree, $unit);
        } catch (TooMuchToRead) {
            [$limit, $because] = [$kind->room()[1], 'its history is too much to be read at once'];
        } catch (FormulaError) {
            // What two sides cannot be paired here is no rule for this place.
            return null;
        }

        return new Starter(
            $kind->thing(),
            new RuleDefinition(
                name: $kind->value,
                formula: $kind->formula(),
                condition: self::condition($kind, $limit),
                holdSeconds: $kind->holdSeconds(),
                clearHoldSeconds: max(60, $kind->holdSeconds()),
                blindSeverity: $kind === StarterKind::HostSilent ? Severity::Major : null,
                stepSeconds: $kind->stepSeconds(),
            ),
            $kind->reason(),
            $because,
            in_array(self::metricsOf($tree), $watched, true),
            $unit,
        );
    }

    private static function condition(StarterKind $kind, float $limit): ConditionFields
    {
        $limits = [new LimitFields($kind->severity(), $limit)];
        $clear = (float) sprintf('%.3g', $limit * $kind->back());

        return match ($kind) {
            StarterKind::HostDisk => new ForecastFields($kind->side(), $limits, $clear, self::DAY_SECONDS),
            StarterKind::Certificate => new ThresholdFields(
                $kind->side(),
                [...$limits, new LimitFields(Severity::Critical, 3 * self::DAY_SECONDS)],
                $clear,
            ),
            default => new ThresholdFields($kind->side(), $limits, $clear),
        };
    }

    /**
     * @return array{float, string} and why it lies there
     *
     * @throws FormulaError  where the formula cannot be worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    private function limit(StarterKind $kind, Node $tree, string $unit): array
    {
        [$times, $least, $most] = $kind->room();
        if ($least === $most) {
            return [$least, 'the same everywhere'];
        }
        $step = Duration::ofMinutes(self::LOOK_EVERY_MINUTES);
        $through = $this->clock->now()->onStep($step);
        $lines = $this->evaluator->range($tree, $through->minus(Duration::ofDays(self::DAYS))->ms, $through->ms, $step->ms)->lines;
        $values = array_filter(
            array_merge(...array_column($lines, 'values'), ...[[]]),
            static fn(?float $value): bool => $value !== null && is_finite($value),
        );
        if ($values === []) {
            return [$least, 'no history of it is here yet'];
        }
        $isAbove = $kind->side() === Side::Above;
        $seen = Spread::quantile($isAbove ? self::NEARLY_ALL : 1 - self::NEARLY_ALL, array_values($values));
        $limit = (float) sprintf('%.' . self::DIGITS . 'g', min($most, max($least, $seen * $times)));

        return [
            $limit,
            sprintf('in %d d nearly all of it was %s %s', self::DAYS, $isAbove ? 'below' : 'above', Quantity::words($seen, $unit)),
        ];
    }

    /**
     * @return list<string>
     *
     * @throws Problem
     */
    private function watched(): array
    {
        $watched = [];
        foreach ($this->rules->byName() as $rule) {
            try {
                $watched[] = self::metricsOf(Parser::parse($this->definitions->of($rule->inService)->formula));
            } catch (FormulaError) {
                continue;
            }
        }

        return $watched;
    }

    private static function metricsOf(Node $tree): string
    {
        $metrics = array_unique(array_column(Tree::selections($tree), 'metric'));
        sort($metrics);

        return implode(' ', $metrics);
    }
}

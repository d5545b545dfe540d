<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Recipe\Answer\Starter;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\ThresholdFields;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
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

    public function __construct(
        private Shelf $shelf,
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
     * @return list<Starter> of all recipes, those of which anything is watched
     *
     * @throws Problem where too much is under way already
     */
    public function all(): array
    {
        $rules = array_merge(...array_values(array_map(static fn(Recipe $recipe): array => $recipe->rules, $this->shelf->all())), ...[[]]);

        return $this->fitting($rules, null);
    }

    /**
     * @param string|null $target whose own history the limits are found in; null: that of all there are
     *
     * @return list<Starter>
     *
     * @throws Problem where too much is under way already
     */
    public function of(Recipe $recipe, ?string $target): array
    {
        return $this->fitting($recipe->rules, $target);
    }

    /**
     * @param list<RecipeRule> $rules
     *
     * @return list<Starter>
     *
     * @throws Problem
     */
    private function fitting(array $rules, ?string $target): array
    {
        $watched = $this->watched();

        return $this->heavy->within(self::SECONDS, fn(): array => array_values(
            array_filter(array_map(fn(RecipeRule $rule): ?Starter => $this->starter($rule, $watched, $target), $rules)),
        ));
    }

    /** @param list<string> $watched what rules look at, each as the names of metrics */
    private function starter(RecipeRule $rule, array $watched, ?string $target): ?Starter
    {
        $definition = $rule->definition;
        try {
            $tree = Parser::parse($definition->formula);
            foreach (Tree::selections($tree) as $selection) {
                $metric = $selection->metric;
                if ($this->index->ofMetric($metric) === [] && $this->index->ofMetric("{$metric}_bucket") === []) {
                    return null;
                }
            }
            $unit = $this->checker->unitOf($tree);
            [$definition, $because] = $this->limited($rule, $tree, $unit, $target);
        } catch (TooMuchToRead) {
            $because = 'its history is too much to be read at once';
        } catch (FormulaError) {
            // What two sides cannot be paired here is no rule for this place.
            return null;
        }

        return new Starter($rule->thing, $definition, $rule->because, $because, in_array(self::metricsOf($tree), $watched, true), $unit);
    }

    /**
     * @return array{RuleDefinition, string} and why its limit lies there
     *
     * @throws FormulaError  where the formula cannot be worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    private function limited(RecipeRule $rule, Node $tree, string $unit, ?string $target): array
    {
        $condition = $rule->definition->condition;
        if ($rule->history === null || !$condition instanceof ThresholdFields) {
            return [$rule->definition, 'the same everywhere'];
        }
        $step = Duration::ofMinutes(self::LOOK_EVERY_MINUTES);
        $through = $this->clock->now()->onStep($step);
        $lines = $this->evaluator->range($tree, $through->minus(Duration::ofDays(self::DAYS))->ms, $through->ms, $step->ms)->lines;
        // What was put together over several things has no target of its own, and counts for each.
        $lines = array_filter($lines, static fn(Line $line): bool => $target === null || ($line->labels->labels['target'] ?? $target) === $target);
        $values = array_filter(
            array_merge(...array_column($lines, 'values'), ...[[]]),
            static fn(?float $value): bool => $value !== null && is_finite($value),
        );
        if ($values === []) {
            return [$rule->definition, 'no history of it is here yet'];
        }
        $isAbove = $condition->side === Side::Above;
        $seen = Spread::quantile($isAbove ? self::NEARLY_ALL : 1 - self::NEARLY_ALL, array_values($values));

        return [
            $rule->withLimit($rule->history->limit($seen)),
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

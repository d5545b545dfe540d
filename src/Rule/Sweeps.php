<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Rule\Answer\FlatStretch;
use Olivine\App\Rule\Answer\Sweep as SweepAnswer;
use Olivine\App\Rule\Answer\SweptValue;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Spell;
use Olivine\Core\Rule\Spells;
use Olivine\Core\Rule\Sweep;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What a rule would have raised with its limit or its hold at each of many values. */
final readonly class Sweeps
{
    private const SECONDS = 20.0;
    private const VALUES = 40;
    private const AS_IT_IS = -1;
    private const NIGHT = [22, 6];

    public function __construct(
        private Evaluator $evaluator,
        private Checker $checker,
        private RuleEngine $engine,
        private SettledReadings $settled,
        private SettingValues $worthTrying,
        private Settings $settings,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param int $hours back from as far as live rules could look by now
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     * @throws Problem       429 where too much is under way already
     */
    public function of(RuleDefinition $definition, Sweep $setting, int $hours): SweepAnswer
    {
        $rule = $definition->core();
        $now = $this->clock->now()->ms;
        $through = Instant::ofMs($this->settled->throughFor($rule->watched, $this->settled->at($now)))->onStep($rule->step);
        $after = $through->minus(Duration::ofHours($hours));
        $this->evaluator->refuseLongWork($rule->watched, $after->ms, $through->ms, $rule->step->ms);
        $began = hrtime(true);
        $values = $this->heavy->within(self::SECONDS, fn(): array => $this->swept($rule, $setting, $after, $through));

        return new SweepAnswer(
            flats: array_map(
                static fn(array $flat): FlatStretch => new FlatStretch(...$flat),
                Sweep::flats(array_map(static fn(SweptValue $one): array => [$one->value, $one->alerts], $values)),
            ),
            setting: $setting,
            tookMs: round((hrtime(true) - $began) / 1e6, 1),
            unit: $setting === Sweep::Hold ? 'seconds' : $this->limitUnit($rule),
            values: $values,
        );
    }

    /**
     * @return list<SweptValue>
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function swept(Rule $rule, Sweep $setting, Instant $after, Instant $through): array
    {
        // The rule as it is comes first; values that would come and go all the time are given up beside it.
        $rules = [self::AS_IT_IS => $rule];
        $values = [];
        $tried = $setting === Sweep::Hold ? SettingValues::holds($rule, self::VALUES) : $this->worthTrying->limits($rule, self::VALUES, $after, $through);
        foreach ($tried as $value) {
            $with = $setting->with($rule, $value);
            if ($with !== null) {
                $rules[count($values)] = $with;
                $values[] = $value;
            }
        }
        if ($values === []) {
            return [];
        }
        $swept = [];
        $outcomes = $this->engine->sweep($rules, $after, $through);
        unset($outcomes[self::AS_IT_IS]);
        foreach ($outcomes as $i => $outcome) {
            $spells = Spells::of($outcome->transitions);
            $swept[] = new SweptValue($values[$i], count($spells), count(array_filter($spells, $this->isAtNight(...))));
        }

        return $swept;
    }

    private function limitUnit(Rule $rule): string
    {
        $isOfWatched = $rule->condition instanceof Threshold || $rule->condition instanceof Forecast;
        try {
            return $isOfWatched ? $this->checker->unitOf($rule->watched) : '';
        } catch (FormulaError) {
            return '';
        }
    }

    private function isAtNight(Spell $spell): bool
    {
        $hour = (int) $spell->raised->in($this->settings->zone())->format('G');

        return $hour >= self::NIGHT[0] || $hour < self::NIGHT[1];
    }
}

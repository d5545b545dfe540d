<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\WhoWouldHear;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Answer\FlappingSpells;
use Olivine\App\Rule\Answer\Replay;
use Olivine\App\Rule\Answer\Spell;
use Olivine\App\Rule\Answer\SpellDifference;
use Olivine\App\Rule\Answer\Timing;
use Olivine\App\Rule\Answer\UsualRange;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Store\Answer\ChartLine;
use Olivine\App\Store\Retention;
use Olivine\App\Store\RetentionTier;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\StoredReadings;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Lines;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\ComparedSpell;
use Olivine\Core\Rule\Condition\Absence;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Flapping;
use Olivine\Core\Rule\RaisedSpells;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Spell as CoreSpell;
use Olivine\Core\Rule\Spells;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What a rule as given would have raised over past readings, by the engine that runs live. */
final readonly class Replays
{
    private const SECONDS = 15.0;
    private const LONG_SECONDS = 300.0;
    private const SHORT_HOURS = 336;
    private const MINUTE_MS = 60_000;
    private const HOUR_MS = 3_600_000;
    private const POINTS = 700;
    private const MOST_LINES = 12;
    private const MOST_FLAPPING = 3;

    public function __construct(
        private Evaluator $evaluator,
        private Checker $checker,
        private RuleEngine $engine,
        private SettledReadings $settled,
        private SeriesIndex $index,
        private DeliveryRepository $deliveries,
        private StoredReadings $readings,
        private Retention $retention,
        private HeavyWork $heavy,
        private WhoWouldHear $hear,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param int                          $hours     back from as far as live rules could look by now
     * @param RuleDefinition|null          $inService to be compared with
     * @param (\Closure(float): void)|null $progress  is told what share of it is done
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws Problem       429 where too much is under way already
     * @throws BadRule       naming the field that cannot be so
     */
    public function of(RuleDefinition $rule, int $hours, ?RuleDefinition $inService = null, ?\Closure $progress = null): Replay
    {
        if ($hours > self::SHORT_HOURS && $progress === null) {
            throw Problem::field('hours', 'hours may be at most ' . self::SHORT_HOURS . ' here; more at /api/rules/replay/long, which tells how far it is');
        }
        $core = $rule->core();
        $tree = $core->watched;
        $step = $core->step->ms;
        $to = $this->settled->throughFor($tree, $this->settled->at($this->clock->now()->ms));
        $from = $this->from($tree, $to, $hours);
        $chartStep = max($step, (int) (ceil(($to - $from) / self::POINTS / $step) * $step));
        $first = (intdiv($from, $chartStep) + 1) * $chartStep;
        // All that can be told beforehand is, before anything is read.
        $this->evaluator->refuseLongWork($tree, $from, $to, $step);
        $this->evaluator->load($tree, $to, $to, $step);
        $this->evaluator->load($tree, $first, $to, $chartStep);
        $began = hrtime(true);
        $after = Instant::ofMs($from);
        $through = Instant::ofMs($to);
        $work = function () use (
            $progress,
            $rule,
            $core,
            $inService,
            $after,
            $through,
            $tree,
            $first,
            $to,
            $chartStep,
        ): array {
            $runs = $inService === null ? 1 : 2;
            $happened = $this->happened($core, $after, $through, self::part($progress, 0, $runs, $after, $through));
            $spells = Spells::of($happened);
            $chart = $this->evaluator->seeing($core->mustSee)->range($tree, $first, $to, $chartStep);
            $before = $inService === null
                ? null
                : Spells::of($this->happened($inService->core(), $after, $through, self::part($progress, 1, $runs, $after, $through)));

            $usual = $this->usual(
                $core,
                array_slice($chart->lines, 0, self::MOST_LINES),
                $spells,
                RaisedSpells::in($happened, $core),
                $first,
                $to,
                $chartStep,
            );

            return [$spells, $chart, $before === null ? null : ComparedSpell::all($before, $spells), $usual, $this->hear->of($rule, $happened, $through)];
        };
        [$spells, $chart, $differences, $usual, $heard] = $progress === null
            ? $this->heavy->within(self::SECONDS, $work)
            : $this->heavy->alone(self::LONG_SECONDS, $work);

        return new Replay(
            differences: $differences === null ? null : array_map(SpellDifference::of(...), $differences),
            first: Instant::ofMs($first),
            flapping: self::flapping($spells, $core),
            heard: $heard,
            from: Instant::ofMs($from),
            knownFrom: self::knownFrom($chart, $first, $chartStep),
            readingsFrom: $this->readingsFrom($from),
            lines: array_map(self::line(...), array_slice($chart->lines, 0, self::MOST_LINES)),
            series: count($chart->lines),
            spells: array_map(Spell::of(...), $spells),
            step: $chartStep,
            timing: $this->timing($core, $this->hear->gathersFor($rule, $spells === [] ? LabelSet::none() : $spells[0]->labels)),
            to: Instant::ofMs($to),
            tookMs: round((hrtime(true) - $began) / 1e6, 1),
            unit: $this->checker->unitOf($tree),
            usual: $usual,
        );
    }

    /**
     * @param list<Line>      $lines  that are drawn
     * @param list<CoreSpell> $spells newest first
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function usual(Rule $rule, array $lines, array $spells, RaisedSpells $trouble, int $firstMs, int $toMs, int $stepMs): ?UsualRange
    {
        $condition = $rule->condition;
        if (!$condition instanceof Departure || $lines === []) {
            return null;
        }
        $keys = array_map(static fn(Line $line): string => $line->labels->key(), $lines);
        $raised = array_map(static fn(CoreSpell $spell): string => $spell->labels->key(), $spells);
        $place = max(0, (int) array_search(array_find($raised, static fn(string $key): bool => in_array($key, $keys, true)), $keys, true));
        $evaluator = $this->evaluator->leavingOut($trouble);
        [, $usual, $spread] = array_map(
            static fn(Node $input): array => $evaluator->line($input, $lines[$place]->labels, $firstMs, $toMs, $stepMs)->values ?? [],
            $condition->inputs($rule->watched),
        );
        $low = $high = [];
        foreach ($usual as $i => $middle) {
            $ends = $middle === null || ($spread[$i] ?? null) === null ? [null, null] : $condition->range($middle, $spread[$i]);
            $low[] = self::drawn($ends[0]);
            $high[] = self::drawn($ends[1]);
        }

        return new UsualRange($high, $place, $low);
    }

    /**
     * @param list<CoreSpell> $spells
     *
     * @return list<FlappingSpells>
     */
    private static function flapping(array $spells, Rule $rule): array
    {
        return array_map(
            static fn(Flapping $one): FlappingSpells => new FlappingSpells(
                clearHoldSeconds: $one->clearHold->seconds(),
                from: $one->from,
                labels: $one->labels,
                times: $one->times,
                to: $one->to,
            ),
            array_slice(Flapping::of($spells, $rule->holding, $rule->step), 0, self::MOST_FLAPPING),
        );
    }

    /**
     * @return list<AlertTransition> in the order of time
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    private function happened(Rule $rule, Instant $after, Instant $through, ?\Closure $reached): array
    {
        return $this->engine->run($rule, [], $after, $through->onStep($rule->step), $reached)->transitions;
    }

    /**
     * @param (\Closure(float): void)|null $progress
     * @param int                          $done     runs before this one
     *
     * @return (\Closure(Instant): void)|null
     */
    private static function part(?\Closure $progress, int $done, int $runs, Instant $after, Instant $through): ?\Closure
    {
        $whole = max(1, $through->since($after)->ms);

        return $progress === null
            ? null
            : static function (Instant $reached) use ($progress, $done, $runs, $after, $whole): void {
                $progress(($done + $reached->since($after)->ms / $whole) / $runs);
            };
    }

    private static function line(Line $line): ChartLine
    {
        return new ChartLine($line->labels, array_map(self::drawn(...), $line->values));
    }

    private static function drawn(?float $value): ?float
    {
        return $value === null || !is_finite($value) ? null : round($value, 6);
    }

    /** @return Instant|null the first that any series has a value at; a replay says nothing about the time before */
    private static function knownFrom(Lines $chart, int $firstMs, int $stepMs): ?Instant
    {
        $places = array_map(
            static fn(Line $line): ?int => array_find_key($line->values, static fn(?float $value): bool => $value !== null),
            $chart->lines,
        );
        $places = array_filter($places, is_int(...));

        return $places === [] ? null : Instant::ofMs($firstMs + min($places) * $stepMs);
    }

    /**
     * What lies between an onset and the first message, from the targets, the formula, the settings and the mails that went out.
     *
     * @throws TooMuchToRead
     */
    private function timing(Rule $rule, Duration $gathers): Timing
    {
        $tree = $rule->watched;
        $interval = 0;
        $perMinute = [];
        foreach (Tree::selections($tree) as $selection) {
            foreach ($this->index->select($selection) as $series) {
                $interval = max($interval, $series->intervalMs());
                $perMinute[$series->id] = self::MINUTE_MS / $series->intervalMs();
            }
        }

        return new Timing(
            blindMs: $rule->condition instanceof Absence ? null : self::blindMs($rule, $interval),
            gatherMs: $gathers->ms,
            intervalMs: $interval,
            readingsAMinute: array_sum($perMinute),
            sendMs: $this->deliveries->usualSend()?->ms,
            stepMs: $rule->step->ms,
            windowMs: Tree::longestWindowMs($tree),
        );
    }

    /**
     * A long span begins no earlier than what it looks at: a year of nothing is replayed for nobody.
     *
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    private function from(Node $tree, int $toMs, int $hours): int
    {
        $fromMs = $toMs - $hours * self::HOUR_MS;
        if ($hours <= self::SHORT_HOURS) {
            return $fromMs;
        }
        $begins = array_map($this->readings->beginsAt(...), Tree::selections($tree));
        $known = array_filter($begins, static fn(?int $ms): bool => $ms !== null);

        return $known === [] ? $fromMs : max($fromMs, min($known) - self::HOUR_MS);
    }

    /** @return Instant|null from when on there are readings, where before only roll-ups are left */
    private function readingsFrom(int $fromMs): ?Instant
    {
        $letGo = $this->retention->letGoBefore(RetentionTier::Readings);

        return $letGo > $fromMs ? Instant::ofMs($letGo) : null;
    }

    /** A window cannot be told when too little of it was seen; a reading without one when it is stale. */
    private static function blindMs(Rule $rule, int $intervalMs): int
    {
        $windowMs = Tree::longestWindowMs($rule->watched);

        return $windowMs === 0 ? Window::STALE_INTERVALS * $intervalMs : (int) ((1 - $rule->mustSee) * $windowMs);
    }
}

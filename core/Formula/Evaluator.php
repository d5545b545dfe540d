<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\Age;
use Olivine\Core\Formula\Node\Ago;
use Olivine\Core\Formula\Node\Baseline;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Calendar;
use Olivine\Core\Formula\Node\Deviation;
use Olivine\Core\Formula\Node\Foreseen;
use Olivine\Core\Formula\Node\Missing;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Now;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Outlier;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\PerValue;
use Olivine\Core\Formula\Node\Raised;
use Olivine\Core\Formula\Node\Ranked;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Node\Twins;
use Olivine\Core\Formula\Node\Unary;
use Olivine\Core\Formula\Node\Usually;
use Olivine\Core\Formula\Node\VoiceQuality;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/**
 * Works a formula out over a range of instants, one column of values a series.
 *
 * Invariants: an instant is a range of one; a range in two halves equals the whole. So nothing here may depend
 * on where a range begins: windows are summed reading by reading, inner formulas run on a grid of fixed instants.
 */
final readonly class Evaluator
{
    /** The grid on which the inner formula of `max(rate(x, 1m), 1h)` is worked out. */
    public const INNER_STEP_MS = 15_000;
    private const DAY_MS = 86_400_000;
    /** For fewer it is not worth while to look which of them are alike. */
    private const MANY_INSTANTS = 60;

    /**
     * A formula that would take more than this is refused.
     *
     * @param int                              $mostReadings so many fit into the memory of a web request
     * @param float                            $mostSteps    about six seconds of work
     * @param (\Closure(): \DateTimeZone)|null $zone         whose hours are meant by the same hour of other days; null: UTC
     * @param Patience                         $patience     of whoever waits
     * @param PastsAtHand|null                 $pasts        what is kept from one look to the next; null: nothing
     * @param Steady|null                      $steady       what need not be told of one formula
     * @param Node|null                        $steadyOf     of which
     * @param (\Closure(): list<string>)|null  $holidays     days of the zone that say nothing of what is usual
     * @param UnusualSpans|null                $trouble      in which nothing was usual
     * @param Nearness|null                    $nearness     what is not foreseen to come near need not be told; null: all is
     * @param float                            $mustSee      the share of a window that must have been seen to be told of it, 0 to 1
     */
    public function __construct(
        private ReadingSource $source,
        private int $mostReadings = 8_000_000,
        private float $mostSteps = 2e9,
        private ?\Closure $zone = null,
        private Patience $patience = new EndlessPatience(),
        private BothParts $parts = new BothParts(),
        private ?PastsAtHand $pasts = null,
        private float $mustSee = 0.0,
        private ?Steady $steady = null,
        private ?Node $steadyOf = null,
        private ?\Closure $holidays = null,
        private ?UnusualSpans $trouble = null,
        private ?Nearness $nearness = null,
    ) {
    }

    /**
     * The same where windows tell something only if enough of them was seen.
     *
     * @param float $share 0 to 1
     */
    public function seeing(float $share): self
    {
        return $share === $this->mustSee ? $this : $this->with($share, $this->steady, $this->steadyOf);
    }

    /** The same that reads what it looks back at once, and then as it goes on; what was read must not change meanwhile. */
    public function keeping(PastsAtHand $pasts): self
    {
        return $this->with($this->mustSee, $this->steady, $this->steadyOf, $pasts, source: new ReadOnce($this->source));
    }

    /** The same where what was read in times of trouble says nothing of what is usual. */
    public function leavingOut(UnusualSpans $trouble): self
    {
        return $this->with($this->mustSee, $this->steady, $this->steadyOf, trouble: $trouble);
    }

    /** The same where of what cannot come near a limit nothing is foreseen. */
    public function foreseeingOnly(Nearness $nearness): self
    {
        return $this->with($this->mustSee, $this->steady, $this->steadyOf, nearness: $nearness);
    }

    /** The same where values of one formula that lie steadily between two bounds stand for each other. */
    public function steadily(Node $of, Steady $steady): self
    {
        return $this->with($this->mustSee, $steady, $of);
    }

    /**
     * The hours of a selection, between which values each lay.
     *
     * @param int $afterMs   a whole hour
     * @param int $throughMs a whole hour
     * @param int $most      hours of all its series together
     *
     * @return list<Buckets>|null null where there are none that would be exact, or they would be too many
     */
    public function hours(Select $what, int $afterMs, int $throughMs, int $most): ?array
    {
        $series = $this->source->estimate($what, $afterMs, $throughMs)->series;

        return $series * (($throughMs - $afterMs) / Tier::Hour->bucketMs()) > $most
            ? null
            : $this->source->buckets($what, Tier::Hour, Detail::Everything, $afterMs, $throughMs);
    }

    /** None of these speaks for the present longer than this after its newest reading. */
    public function longestStaleMs(Select $what): int
    {
        return $this->source->longestStaleMs($what);
    }

    private function with(
        float $mustSee,
        ?Steady $steady,
        ?Node $steadyOf,
        ?PastsAtHand $pasts = null,
        ?UnusualSpans $trouble = null,
        ?Nearness $nearness = null,
        ?ReadingSource $source = null,
    ): self {
        return new self(
            $source ?? $this->source,
            $this->mostReadings,
            $this->mostSteps,
            $this->zone,
            $this->patience,
            $this->parts,
            $pasts ?? $this->pasts,
            $mustSee,
            $steady,
            $steadyOf,
            $this->holidays,
            $trouble ?? $this->trouble,
            $nearness ?? $this->nearness,
        );
    }

    /**
     * @param int $fromMs the first instant
     * @param int $toMs   the last one is at or before this
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead with the estimate
     */
    public function range(Node $formula, int $fromMs, int $toMs, int $stepMs): Lines
    {
        $this->load($formula, $fromMs, $toMs, $stepMs);
        $lines = $this->evaluate($formula, range($fromMs, max($fromMs, $toMs - (($toMs - $fromMs) % $stepMs)), $stepMs));

        return new Lines(
            array_values(array_filter($lines->lines, static fn(Line $line): bool => !$line->isEmpty())),
            $lines->isNumber,
        );
    }

    /**
     * One of its lines, without reading what the others are made of.
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead with the estimate
     */
    public function line(Node $formula, LabelSet $labels, int $fromMs, int $toMs, int $stepMs): ?Line
    {
        try {
            $found = self::linesOf($this->range(Narrowing::to($formula, $labels->labels), $fromMs, $toMs, $stepMs), $labels);
            if (count($found) < 2) {
                return $found[0] ?? null;
            }
        } catch (FormulaError) {
        }

        // With fewer series the two sides may share fewer labels, and then pair otherwise.
        return self::linesOf($this->range($formula, $fromMs, $toMs, $stepMs), $labels)[0] ?? null;
    }

    /** @return list<Line> */
    private static function linesOf(Lines $lines, LabelSet $labels): array
    {
        return array_values(array_filter($lines->lines, static fn(Line $line): bool => $line->labels->equals($labels)));
    }

    /**
     * For work that goes part by part over a long span: each part passes on its own, all of them may still take too long.
     *
     * @throws TooMuchToRead
     */
    public function refuseLongWork(Node $formula, int $fromMs, int $toMs, int $stepMs): void
    {
        $steps = (new Plan($this->source))->load($formula, $fromMs, $toMs, $stepMs)->steps;
        if ($steps > 3 * $this->mostSteps) {
            throw new TooMuchToRead(self::tooMuchWork($steps, 3 * $this->mostSteps));
        }
    }

    /**
     * For work that can go on in parts.
     *
     * @return int how many instants may be worked out at once, at least one and no more than wanted
     */
    public function mostInstants(Node $formula, int $fromMs, int $stepMs, int $wanted): int
    {
        $plan = new Plan($this->source);
        $instants = max(1, $wanted);
        for (; $instants > 1; $instants = intdiv($instants, 2)) {
            $load = $plan->load($formula, $fromMs, $fromMs + ($instants - 1) * $stepMs, $stepMs);
            if (
                $load->readings <= $this->mostReadings
                && $load->values <= $this->mostReadings
                && $load->steps <= $this->mostSteps
            ) {
                break;
            }
        }

        return $instants;
    }

    /**
     * What a range would take, refused at once where it is too much.
     *
     * @throws TooMuchToRead
     */
    public function load(Node $formula, int $fromMs, int $toMs, int $stepMs): Load
    {
        $load = (new Plan($this->source))->load($formula, $fromMs, $toMs, $stepMs);
        $this->refuseTooMuch($load);

        return $load;
    }

    /** @throws TooMuchToRead */
    private function refuseTooMuch(Load $load): void
    {
        if ($load->readings > $this->mostReadings) {
            throw new TooMuchToRead(
                sprintf(
                    'This would read about %s M readings, more than the %s M that one formula may; narrow it with where, or choose a shorter span',
                    number_format($load->readings / 1e6, 1),
                    number_format($this->mostReadings / 1e6, 0),
                ),
            );
        }
        if ($load->values > $this->mostReadings) {
            throw new TooMuchToRead(
                sprintf(
                    'This would hold about %s M values at once, more than the %s M that one formula may; narrow it with where, or ' .
                        'choose a shorter span or window',
                    number_format($load->values / 1e6, 1),
                    number_format($this->mostReadings / 1e6, 0),
                ),
            );
        }
        if ($load->steps > $this->mostSteps) {
            throw new TooMuchToRead(self::tooMuchWork($load->steps, $this->mostSteps));
        }
    }

    private static function tooMuchWork(float $steps, float $most): string
    {
        return sprintf(
            'This would take about %s M steps of work, more than the %s M that one formula may; choose a shorter window or span, ' .
                'fewer series, or mean in place of median',
            number_format($steps / 1e6, 0),
            number_format($most / 1e6, 0),
        );
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function evaluate(Node $node, array $instants): Lines
    {
        $this->patience->goOn();

        return match (true) {
            $node instanceof Number => self::number(array_fill(0, count($instants), $node->value)),
            $node instanceof Now => self::number(array_map(static fn(int $at): float => $at / 1000, $instants)),
            $node instanceof Calendar => self::number(
                array_map(static fn(int $at): float => $node->part->at($at, $node->zone), $instants),
            ),
            $node instanceof Select => $this->select($node, $instants),
            $node instanceof Raised => $this->raised($node, $instants),
            $node instanceof Ago => $this->evaluate(
                $node->of,
                array_map(static fn(int $at): int => $at - $node->byMs, $instants),
            ),
            $node instanceof OverTime => $this->overTime($node, $instants),
            $node instanceof Age => $this->age($node, $instants),
            $node instanceof Missing => $this->missing($node, $instants),
            $node instanceof Baseline => $this->baseline($node, $instants),
            $node instanceof Deviation => $this->deviation($node, $instants),
            $node instanceof Usually => $this->usually($node, $instants),
            $node instanceof Foreseen => $this->foreseen($node, $instants),
            $node instanceof Twins => $this->twins($node, $instants),
            $node instanceof AcrossSeries => AcrossGroups::reduce($node, $this->evaluate($node->of, $instants)),
            $node instanceof Ranked => AcrossGroups::rank($node, $this->evaluate($node->of, $instants)),
            $node instanceof Outlier => AcrossGroups::outliers($node, $this->evaluate($node->of, $instants)),
            $node instanceof Percentile, $node instanceof ShareBelow => $this->histogram($node, $instants),
            $node instanceof VoiceQuality => $this->voice($node, $instants),
            $node instanceof PerValue => $this->perValue($node, $instants),
            $node instanceof Unary => $this->unary($node, $instants),
            $node instanceof Binary => Pairing::of($node)->apply(
                $this->evaluate($node->left, $instants),
                $this->evaluate($node->right, $instants),
                count($instants),
            ),
            default => throw new \LogicException('No way to work out ' . $node::class),
        };
    }

    /** @param list<float> $values */
    private static function number(array $values): Lines
    {
        return new Lines([new Line(LabelSet::none(), $values)], true);
    }

    /** @param non-empty-list<int> $instants */
    private function raised(Raised $node, array $instants): Lines
    {
        return new Lines(
            array_map(
                static fn(Window $window): Line => new Line($window->labels, self::newest($window, $instants)),
                $this->source->alerts($node->rule, $instants[0] - 1, end($instants)),
            ),
        );
    }

    /**
     * The newest reading at each instant, unless it is stale or the series ended.
     *
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     */
    private function select(Select $node, array $instants): Lines
    {
        $lines = [];
        foreach ($this->remains($node, $instants) as $buckets) {
            $lines[] = new Line($buckets->labels, (new SlidingBuckets($buckets))->newest($instants));
        }
        if ($lines !== []) {
            return new Lines($lines);
        }
        foreach ($this->source->windows($node, $instants[0] - $this->source->longestStaleMs($node) - 1, end($instants)) as $window) {
            $this->patience->goOn();
            $lines[] = new Line($window->labels, self::newest($window, $instants));
        }

        return new Lines($lines);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @return list<float|null> the newest reading at each that is not stale
     */
    private static function newest(Window $window, array $instants): array
    {
        // Local names: this loop passes over every reading of a chart.
        [$times, $readings, $staleMs] = [$window->times, $window->values, $window->staleMs];
        $values = [];
        $next = 0;
        $count = count($times);
        // Most charts have fewer instants than there are readings, so most readings are leapt over.
        $leap = max(1, intdiv($count, count($instants)));
        foreach ($instants as $at) {
            while ($next + $leap <= $count && $times[$next + $leap - 1] <= $at) {
                $next += $leap;
            }
            while ($next < $count && $times[$next] <= $at) {
                ++$next;
            }
            $values[] = $next > 0 && $times[$next - 1] >= $at - $staleMs ? $readings[$next - 1] : null;
        }

        return $values;
    }

    /**
     * Where readings were let go, the last one of each bucket is still known.
     *
     * @param non-empty-list<int> $instants
     *
     * @return list<Buckets>
     */
    private function remains(Select $node, array $instants): array
    {
        foreach (Tier::fitting(0, ($instants[1] ?? $instants[0]) - $instants[0], $instants[0]) as $tier) {
            $found = $this->source->remains($node, $tier, $instants[0] - $this->staleBuckets($node, $tier), end($instants));
            if ($found !== null) {
                return $found;
            }
        }

        return [];
    }

    /** @return int how far before an instant a reading that still counts may lie, in whole buckets */
    private function staleBuckets(Select $what, Tier $tier): int
    {
        return (int) ceil(($this->source->longestStaleMs($what) + 1) / $tier->bucketMs()) * $tier->bucketMs();
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function overTime(OverTime $node, array $instants): Lines
    {
        $lines = [];
        foreach ($this->rolledUp($node, $instants) ?? [] as $buckets) {
            $lines[] = new Line(
                $buckets->labels,
                (new SlidingBuckets($buckets))->reduce($node->reducer, $node->windowMs, $instants, $this->mustSee),
            );
        }
        if ($lines !== []) {
            return new Lines($lines);
        }
        $steady = $this->steadyOf === $node && count($instants) >= self::MANY_INSTANTS ? $this->steady : null;
        // What an inner formula tells was seen well enough already.
        $mustSee = $node->of instanceof Select ? $this->mustSee : 0.0;
        $places = null;
        foreach ($this->inner($node, $instants) as $window) {
            $this->patience->goOn();
            $sliding = new SlidingWindow($window);
            if ($node->reducer->countsGrowth()) {
                $places = $sliding->places($node->windowMs, $instants, $mustSee, $places);
                $lines[] = new Line($window->labels, $sliding->grown($node->reducer, $places));

                continue;
            }
            $lines[] = new Line(
                $window->labels,
                $steady === null
                    ? $sliding->reduce($node->reducer, $node->windowMs, $instants, $node->parameter, $mustSee)
                    : $sliding->reduceSteady($node->reducer, $node->windowMs, $instants, $node->parameter, $mustSee, $steady),
            );
        }

        return new Lines($lines);
    }

    /**
     * Whole buckets do where windows and instants are whole multiples of them.
     *
     * @param non-empty-list<int> $instants
     *
     * @return list<Buckets>|null
     */
    private function rolledUp(OverTime $node, array $instants): ?array
    {
        if (!($node->of instanceof Select) || !SlidingBuckets::tells($node->reducer)) {
            return null;
        }
        $step = count($instants) > 1 ? $instants[1] - $instants[0] : $node->windowMs;
        foreach (Tier::fitting($node->windowMs, $step, $instants[0]) as $tier) {
            // A counter grows from the last reading before the window, unless that is stale.
            $before = $node->reducer->countsGrowth() ? $this->staleBuckets($node->of, $tier) : 0;
            $found = $this->source->buckets(
                $node->of,
                $tier,
                SlidingBuckets::needs($node->reducer),
                $instants[0] - $node->windowMs - $before,
                end($instants),
            );
            if ($found !== null && (!$node->reducer->countsGrowth() || self::allGrow($found))) {
                return $found;
            }
        }

        return null;
    }

    /** @param list<Buckets> $found */
    private static function allGrow(array $found): bool
    {
        foreach ($found as $buckets) {
            if ($buckets->growths === null) {
                return false;
            }
        }

        return true;
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @return list<Window>
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function inner(OverTime $node, array $instants): array
    {
        $after = $instants[0] - $node->windowMs;
        $through = end($instants);
        if ($node->of instanceof Select) {
            $back = $node->reducer->countsGrowth() ? $this->source->longestStaleMs($node->of) + 1 : 0;

            return $this->source->windows($node->of, $after - $back, $through);
        }

        return $this->onGrid($node->of, $after, $through, self::INNER_STEP_MS);
    }

    /**
     * A formula worked out at whole multiples of a step, whatever range is asked for.
     *
     * @return list<Window>
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function onGrid(Node $node, int $afterMs, int $throughMs, int $stepMs): array
    {
        $first = ((int) floor($afterMs / $stepMs) + 1) * $stepMs;
        if ($first > $throughMs) {
            return [];
        }
        $grid = range($first, $throughMs - (($throughMs - $first) % $stepMs), $stepMs);

        return array_map(
            static fn(Line $line): Window => new Window($line->labels, $grid, $line->values, $stepMs),
            $this->evaluate($node, $grid)->lines,
        );
    }

    /** @param non-empty-list<int> $instants */
    private function age(Age $node, array $instants): Lines
    {
        return $this->sinceNewest(
            $node->of,
            $instants,
            self::DAY_MS,
            static fn(int $at, int $newest): float => ($at - $newest) / 1000,
        );
    }

    /** @param non-empty-list<int> $instants */
    private function missing(Missing $node, array $instants): Lines
    {
        $backMs = self::lookBackMs($node);

        return $this->sinceNewest(
            $node->of,
            $instants,
            $backMs,
            static fn(int $at, int $newest): float => $newest <= $at - $node->windowMs ? 1.0 : 0.0,
        );
    }

    /** Readings of the day before count: for what is missing, of the day before the window in which nothing came. */
    public static function lookBackMs(Age|Missing $node): int
    {
        return self::DAY_MS + ($node instanceof Missing ? $node->windowMs : 0);
    }

    /**
     * @param non-empty-list<int>       $instants
     * @param callable(int, int): float $say      from an instant and the time of the newest reading within the look-back
     */
    private function sinceNewest(Select $what, array $instants, int $backMs, callable $say): Lines
    {
        $lines = [];
        foreach ($this->source->windows($what, $instants[0] - $backMs, end($instants)) as $window) {
            $times = [];
            foreach ($window->values as $i => $value) {
                if ($value !== null) {
                    $times[] = $window->times[$i];
                }
            }
            $values = [];
            $next = 0;
            $count = count($times);
            // Most charts have fewer instants than there are readings, so most readings are leapt over.
            $leap = max(1, intdiv($count, count($instants)));
            foreach ($instants as $at) {
                while ($next + $leap <= $count && $times[$next + $leap - 1] <= $at) {
                    $next += $leap;
                }
                while ($next < $count && $times[$next] <= $at) {
                    ++$next;
                }
                $values[] = $next > 0 && $times[$next - 1] > $at - $backMs ? $say($at, $times[$next - 1]) : null;
            }
            $lines[] = new Line($window->labels, $values);
        }

        return new Lines($lines);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function baseline(Baseline $node, array $instants): Lines
    {
        $usual = new Usual($node->spanMs, $this->wallClocks());
        $lines = [];
        foreach ($this->past($node->of, $node->spanMs, $usual->stepMs(), $instants) as $past) {
            $this->patience->goOn();
            $lines[] = new Line($past->labels, $usual->baseline($past, $node->method, $instants));
        }

        return new Lines($lines);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function deviation(Deviation $node, array $instants): Lines
    {
        $usual = new Usual($node->spanMs, $this->wallClocks());
        $spreads = [];
        foreach ($this->past($node->of, $node->spanMs, $usual->stepMs(), $instants) as $past) {
            $this->patience->goOn();
            $spreads[$past->labels->key()] = $usual->spread($past, $node->yardstick, $instants);
        }
        $lines = [];
        foreach ($this->evaluate($node->of, $instants)->lines as $line) {
            $spread = $spreads[$line->labels->key()] ?? [];
            $values = [];
            foreach ($line->values as $i => $value) {
                $usually = $spread[$i] ?? null;
                $values[] = $value === null || $usually === null ? null : Spread::distance($usually[0], $value, $usually[1]);
            }
            $lines[] = new Line($line->labels, $values);
        }

        return new Lines($lines);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function usually(Usually $node, array $instants): Lines
    {
        $usual = new Usual($node->spanMs, $this->wallClocks());
        $trouble = $this->trouble;
        $told = $this->lookingBack(
            $node->of,
            "usual {$node->method->value} {$node->spanMs} {$node->warmUpMs}",
            $node->spanMs,
            $usual->stepMs(),
            $instants,
            fn(Window $past): array => $usual->centreAndSpread(
                $this->withoutHolidays($past),
                $node->method,
                $instants,
                $node->warmUpMs,
                $trouble === null ? [] : $trouble->of($past->labels),
            ),
            (string) $trouble?->key(),
        );

        return self::part($told, $node->part === UsualPart::Centre ? 0 : 1);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function twins(Twins $node, array $instants): Lines
    {
        $told = $this->parts->of(
            $node->of,
            "twins {$node->grouping?->key()} " . self::span($instants),
            fn(): array => AcrossGroups::twins($node, $this->evaluate($node->of, $instants)),
        );

        return self::part($told, $node->part === UsualPart::Centre ? 0 : 1);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function foreseen(Foreseen $node, array $instants): Lines
    {
        $foresight = new Foresight($this->wallClocks());
        $nearness = $this->nearness;
        $told = $this->lookingBack(
            $node->of,
            "foreseen {$node->withinMs} {$node->spanMs} {$this->nearness?->key()}",
            $node->spanMs,
            Foresight::stepMs($node->spanMs),
            $instants,
            static fn(Window $past): array => $foresight->alongside($past, $instants, $node->withinMs, $node->spanMs, $nearness),
        );

        return self::part($told, match ($node->part) {
            ForeseenPart::Highest => 0,
            ForeseenPart::Lowest => 1,
            ForeseenPart::Error => 2,
        });
    }

    /** What was read on a holiday says nothing of other days. */
    private function withoutHolidays(Window $past): Window
    {
        $days = $this->holidays === null ? [] : ($this->holidays)();
        if ($days === [] || $past->times === []) {
            return $past;
        }
        $isHoliday = array_fill_keys($days, true);
        $values = $past->values;
        foreach ((new WallClock($this->wallClocks()))->shown($past->times) as $i => $shown) {
            if (isset($isHoliday[gmdate('Y-m-d', intdiv($shown, 1000))])) {
                $values[$i] = null;
            }
        }

        return new Window($past->labels, $past->times, array_values($values), $past->staleMs, $past->bornMs);
    }

    /**
     * What is told of each series by its past on a grid, and changes only at the instants of that.
     *
     * @param non-empty-list<int>                            $instants
     * @param callable(Window): list<array<int, float>|null> $tell
     * @param string                                         $butFor   stands for what is left out
     *
     * @return list<array{LabelSet, list<array<int, float>|null>}>
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function lookingBack(Node $of, string $how, int $spanMs, int $stepMs, array $instants, callable $tell, string $butFor = ''): array
    {
        return $this->parts->of($of, "{$how} {$butFor} " . self::span($instants), function () use (
            $of,
            $how,
            $spanMs,
            $stepMs,
            $instants,
            $tell,
            $butFor,
        ): array {
            $gridAt = $instants[0] - ((($instants[0] % $stepMs) + $stepMs) % $stepMs);
            $isOne = end($instants) < $gridAt + $stepMs;
            $kept = $isOne ? $this->pasts?->told($of, $how, $gridAt, $butFor) : null;
            if ($kept !== null) {
                return array_map(
                    static fn(array $one): array => [$one[0], array_fill(0, count($instants), $one[1])],
                    $kept,
                );
            }
            $told = [];
            foreach ($this->past($of, $spanMs, $stepMs, $instants) as $past) {
                $this->patience->goOn();
                $told[] = [$past->labels, $tell($past)];
            }
            if ($isOne) {
                $this->pasts?->tell($of, $how, $gridAt, $butFor, array_map(static fn(array $one): array => [$one[0], $one[1][0]], $told));
            }

            return $told;
        });
    }

    /** @param non-empty-list<int> $instants */
    private static function span(array $instants): string
    {
        return implode(' ', [$instants[0], end($instants), count($instants)]);
    }

    /** @param list<array{LabelSet, list<array<int, float>|null>}> $told */
    private static function part(array $told, int $place): Lines
    {
        return new Lines(
            array_map(
                static fn(array $one): Line => new Line(
                    $one[0],
                    array_map(static fn(?array $all): ?float => $all[$place] ?? null, $one[1]),
                ),
                $told,
            ),
        );
    }

    private function wallClocks(): \DateTimeZone
    {
        return $this->zone === null ? new \DateTimeZone('UTC') : ($this->zone)();
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @return list<Window>
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function past(Node $of, int $spanMs, int $stepMs, array $instants): array
    {
        $after = $instants[0] - $spanMs - $stepMs;
        $first = ((int) floor($after / $stepMs) + 1) * $stepMs;
        $through = end($instants);
        $last = $through - ((($through % $stepMs) + $stepMs) % $stepMs);
        if ($first > $last) {
            return [];
        }

        $read = fn(int $afterMs, int $throughMs): array => $this->inParts($of, $afterMs, $throughMs, $stepMs);

        return $this->pasts === null
            ? $read($first - $stepMs, $last)
            : $this->pasts->onGrid($of, $first, $last, $stepMs, $read);
    }

    /**
     * A long past is read a day after the other, so that no more than that is held at once.
     *
     * @return list<Window>
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function inParts(Node $of, int $afterMs, int $throughMs, int $stepMs): array
    {
        $partMs = max(1, intdiv(self::DAY_MS, $stepMs)) * $stepMs;
        $times = [];
        $values = [];
        $labels = [];
        for ($from = $afterMs; $from < $throughMs; $from = $to) {
            $to = min($throughMs, $from + $partMs);
            $this->patience->goOn();
            $read = $this->onGrid($of, $from, $to, $stepMs);
            foreach ($read as $window) {
                $key = $window->labels->key();
                $labels[$key] ??= $window->labels;
                $values[$key] = [...($values[$key] ?? array_fill(0, count($times), null)), ...$window->values];
            }
            $times = [...$times, ...range($from + $stepMs, $to, $stepMs)];
            foreach ($values as $key => $column) {
                $values[$key] = array_pad($column, count($times), null);
            }
        }

        return array_map(
            static fn(LabelSet $of, array $column): Window => new Window($of, $times, $column, $stepMs),
            array_values($labels),
            array_values($values),
        );
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws TooMuchToRead
     * @throws FormulaError
     */
    private function histogram(Percentile|ShareBelow $node, array $instants): Lines
    {
        $buckets = new Select($node->of->place, $node->of->metric . '_bucket', $node->of->where);

        return HistogramGroups::of(
            $node,
            $this->overTime(new OverTime($node->place, TimeReducer::Growth, $buckets, $node->windowMs), $instants),
        );
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function voice(VoiceQuality $node, array $instants): Lines
    {
        $count = count($instants);
        // Jitter counts twice: the buffer that hides it delays by as much.
        $delay = Pairing::with($node->place, static fn(float $latency, float $jitter): float => $latency + 2 * $jitter)->apply(
            $this->evaluate($node->latency, $instants),
            $this->evaluate($node->jitter, $instants),
            $count,
        );

        return Pairing::with(
            $node->place,
            static fn(float $seconds, float $loss): float => Voice::opinionScore($seconds, 0.0, $loss),
        )->apply($delay, $this->evaluate($node->loss, $instants), $count);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function perValue(PerValue $node, array $instants): Lines
    {
        $arguments = $node->arguments;
        $apply = match ($node->function) {
            'abs' => abs(...),
            'ceil' => ceil(...),
            'floor' => floor(...),
            'round' => round(...),
            'sqrt' => sqrt(...),
            'ln' => log(...),
            'log2' => static fn(float $value): float => log($value, 2),
            'clamp' => static fn(float $value): float => is_nan($value) ? $value : max($arguments[0], min($arguments[1], $value)),
            default => throw new \LogicException("No function {$node->function}"),
        };

        return self::map($this->evaluate($node->of, $instants), $apply);
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function unary(Unary $node, array $instants): Lines
    {
        return self::map(
            $this->evaluate($node->of, $instants),
            $node->operator === '-'
                ? static fn(float $value): float => -$value
                : static fn(float $value): float => Operator::holds($value) ? 0.0 : 1.0,
        );
    }

    /** @param callable(float): float $apply */
    private static function map(Lines $of, callable $apply): Lines
    {
        $lines = [];
        foreach ($of->lines as $line) {
            $lines[] = new Line(
                $line->labels,
                array_map(static fn(?float $value): ?float => $value === null ? null : $apply($value), $line->values),
            );
        }

        return new Lines($lines, $of->isNumber);
    }
}

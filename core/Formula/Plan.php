<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\Age;
use Olivine\Core\Formula\Node\Ago;
use Olivine\Core\Formula\Node\Baseline;
use Olivine\Core\Formula\Node\Calendar;
use Olivine\Core\Formula\Node\Deviation;
use Olivine\Core\Formula\Node\Foreseen;
use Olivine\Core\Formula\Node\Missing;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Outlier;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\Raised;
use Olivine\Core\Formula\Node\Ranked;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Node\Twins;
use Olivine\Core\Formula\Node\Usually;
use Olivine\Core\Series\Tier;

/** Says, before anything is read, what a formula will take. Walks the tree as the evaluator does, with numbers in place of readings. */
final readonly class Plan
{
    private const STEPS_A_VALUE = 10.0;
    private const STEPS_A_LOCAL_TIME = 1_200.0;
    private const STEPS_OF_SORTING = 30.0;

    public function __construct(private ReadingSource $source)
    {
    }

    public function load(Node $formula, int $fromMs, int $toMs, int $stepMs): Load
    {
        return $this->of($formula, $fromMs, max($fromMs, $toMs), max(1, $stepMs));
    }

    private function of(Node $node, int $fromMs, int $toMs, int $stepMs): Load
    {
        $instants = intdiv($toMs - $fromMs, $stepMs) + 1;

        return match (true) {
            $node instanceof Select => $this->readings($node, $fromMs - $this->source->longestStaleMs($node), $toMs)->then(
                $instants,
                self::STEPS_A_VALUE,
            ),
            $node instanceof Raised => Load::nothing()->then($instants, self::STEPS_A_VALUE),
            $node instanceof Ago => $this->of($node->of, $fromMs - $node->byMs, $toMs - $node->byMs, $stepMs),
            $node instanceof OverTime => $this->overTime($node, $fromMs, $toMs, $stepMs),
            $node instanceof Percentile, $node instanceof ShareBelow => $this->overTime(
                new OverTime(
                    $node->place,
                    TimeReducer::Growth,
                    new Select($node->of->place, $node->of->metric . '_bucket', $node->of->where),
                    $node->windowMs,
                ),
                $fromMs,
                $toMs,
                $stepMs,
            )->then($instants, self::STEPS_A_VALUE),
            $node instanceof Age, $node instanceof Missing => $this->readings(
                $node->of,
                $fromMs - Evaluator::lookBackMs($node),
                $toMs,
            )->then($instants, self::STEPS_A_VALUE),
            $node instanceof Baseline => $this->usual($node->of, $node->spanMs, $fromMs, $toMs, $instants),
            $node instanceof Deviation => $this->usual($node->of, $node->spanMs, $fromMs, $toMs, $instants)->and(
                $this->of($node->of, $fromMs, $toMs, $stepMs),
            ),
            $node instanceof Usually => $this->usual($node->of, $node->spanMs, $fromMs, $toMs, $instants),
            $node instanceof Foreseen => $this->foreseen($node, $fromMs, $toMs, $instants),
            $node instanceof Calendar => Load::nothing()->then($instants, self::STEPS_A_LOCAL_TIME),
            default => $this->below($node, $fromMs, $toMs, $stepMs)->then(
                $instants,
                match (true) {
                    $node instanceof Ranked, $node instanceof Outlier, $node instanceof Twins => self::STEPS_OF_SORTING,
                    $node instanceof AcrossSeries => in_array($node->reducer, [SetReducer::Median, SetReducer::Quantile], true)
                        ? self::STEPS_OF_SORTING
                        : self::STEPS_A_VALUE,
                    default => self::STEPS_A_VALUE,
                },
            ),
        };
    }

    private function below(Node $node, int $fromMs, int $toMs, int $stepMs): Load
    {
        $load = Load::nothing();
        foreach (Tree::children($node) as $child) {
            $load = $load->and($this->of($child, $fromMs, $toMs, $stepMs));
        }

        return $load;
    }

    private function readings(Select $what, int $afterMs, int $throughMs): Load
    {
        $estimate = $this->source->estimate($what, $afterMs, $throughMs);

        return new Load($estimate->readings, 0.0, $estimate->readings, $estimate->series);
    }

    private function overTime(OverTime $node, int $fromMs, int $toMs, int $stepMs): Load
    {
        $instants = intdiv($toMs - $fromMs, $stepMs) + 1;
        if (!($node->of instanceof Select)) {
            $of = $this->of($node->of, $fromMs - $node->windowMs, $toMs, Evaluator::INNER_STEP_MS);

            return $of->then(
                $instants,
                self::STEPS_A_VALUE + ($node->windowMs / Evaluator::INNER_STEP_MS) * self::stepsAReading($node->reducer),
            );
        }
        $spanMs = $toMs - $fromMs + $node->windowMs;
        $of = $this->readings($node->of, $toMs - $spanMs, $toMs);
        $tier = SlidingBuckets::tells($node->reducer)
            ? Tier::fitting($node->windowMs, $instants > 1 ? $stepMs : $node->windowMs, $fromMs)[0] ?? null
            : null;
        $inWindow = (($of->readings / max(1, $of->series)) * $node->windowMs) / $spanMs;
        if ($tier === Tier::Hour) {
            $buckets = $spanMs / $tier->bucketMs();
            $of = new Load(min($of->readings, $of->series * $buckets), 0.0, min($of->steps, $of->series * $buckets), $of->series);
            $inWindow = min($inWindow, $node->windowMs / $tier->bucketMs());
        }

        return $of->then($instants, self::STEPS_A_VALUE + $inWindow * self::stepsAReading($node->reducer));
    }

    private function usual(Node $of, int $spanMs, int $fromMs, int $toMs, int $instants): Load
    {
        $usual = new Usual($spanMs, new \DateTimeZone('UTC'));
        $step = $usual->stepMs();
        $looks = min($instants, intdiv($toMs - $fromMs, $step) + 2);
        $past = $this->of($of, $fromMs - $spanMs - $step, $toMs, $step)->aDayAtATime($toMs - $fromMs + $spanMs);

        return $past->then($looks, ($spanMs / $step) * self::STEPS_OF_SORTING)->then($instants, self::STEPS_A_VALUE);
    }

    private function foreseen(Foreseen $node, int $fromMs, int $toMs, int $instants): Load
    {
        $step = Foresight::stepMs($node->spanMs);
        $looks = min($instants, intdiv($toMs - $fromMs, $step) + 2);
        $past = $this->of($node->of, $fromMs - $node->spanMs - $step, $toMs, $step)->aDayAtATime($toMs - $fromMs + $node->spanMs);

        return $past->then($looks, ($node->spanMs / $step) * self::STEPS_OF_SORTING)->then($instants, self::STEPS_A_VALUE);
    }

    private static function stepsAReading(TimeReducer $reducer): float
    {
        return match ($reducer) {
            TimeReducer::Count, TimeReducer::Last => 0.0,
            TimeReducer::Median, TimeReducer::Quantile => self::STEPS_OF_SORTING,
            TimeReducer::Mad => 3 * self::STEPS_OF_SORTING,
            TimeReducer::Stddev, TimeReducer::Slope, TimeReducer::Forecast => self::STEPS_A_VALUE * 2,
            default => 1.0,
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Rule\Answer\Advice;
use Olivine\App\Rule\Definition\UsualOf;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BaselineAdvice;
use Olivine\Core\Series\Window;
use Olivine\Core\Time\Duration;

/** Looks at a fortnight of what a formula gives, by the half hour, and says which baseline suits it. */
final readonly class BaselineAdvisor
{
    private const SECONDS = 15.0;
    private const DAYS = 14;
    /** Enough to see whether weeks repeat, where that is no long work. */
    private const WEEKS_DAYS = 28;
    private const MOST_STEPS = 4e8;
    /** More would tell no more. */
    private const MOST_SERIES = 24;

    public function __construct(
        private Evaluator $evaluator,
        private Settings $settings,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws Problem       429 where too much is under way already
     */
    public function of(string $formula): Advice
    {
        $tree = Parser::parse($formula);
        $stepMs = BaselineAdvice::STEP_MS;
        $to = intdiv($this->clock->now()->ms, $stepMs) * $stepMs;
        $first = $this->first($tree, $to);
        $this->evaluator->refuseLongWork($tree, $first, $to, $stepMs);
        $this->evaluator->load($tree, $first, $to, $stepMs);
        $lines = $this->heavy->within(
            self::SECONDS,
            fn(): array => $this->evaluator->range($tree, $first, $to, $stepMs)->lines,
        );
        $times = range($first, $to, $stepMs);
        $advice = BaselineAdvice::of(
            array_map(
                static fn(Line $line): Window => new Window($line->labels, $times, $line->values, $stepMs),
                array_slice($lines, 0, self::MOST_SERIES),
            ),
            $this->settings->zone(),
        );

        return new Advice(
            from: $advice->method === null ? UsualOf::Twins : UsualOf::from($advice->method->value),
            history: $advice->history->ms,
            known: $advice->isKnown,
            left: round($advice->left, 3),
            series: count($lines),
            words: $advice->words(),
        );
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    private function first(Node $tree, int $toMs): int
    {
        $stepMs = BaselineAdvice::STEP_MS;
        $long = $toMs - Duration::ofDays(self::WEEKS_DAYS)->ms + $stepMs;
        try {
            $isShortWork = $this->evaluator->load($tree, $long, $toMs, $stepMs)->steps < self::MOST_STEPS;
        } catch (TooMuchToRead) {
            $isShortWork = false;
        }

        return $isShortWork ? $long : $toMs - Duration::ofDays(self::DAYS)->ms + $stepMs;
    }
}

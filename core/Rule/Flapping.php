<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * An alert that came and went: four times at least, never calm for longer than half an hour between. Clearing more slowly would
 * have made it one alert.
 *
 * By example, raised at 23:00, 23:12, 23:20 and 23:41, each for five minutes with a clear hold of two: 16 minutes lie between the
 * third end and the next onset, so with a clear hold of 18 it would have been one.
 */
final readonly class Flapping
{
    private const TIMES = 4;
    private const LONGEST_CALM_MINUTES = 30;

    /**
     * @param Duration $clearHold that would have made it one alert
     */
    private function __construct(
        public LabelSet $labels,
        public Instant $from,
        public Instant $to,
        public int $times,
        public Duration $clearHold,
    ) {
    }

    /**
     * @param list<Spell> $spells
     * @param Duration    $step   of the rule
     *
     * @return list<self> the one with most first
     */
    public static function of(array $spells, Holding $holding, Duration $step): array
    {
        $byAlert = [];
        foreach ($spells as $spell) {
            $byAlert[$spell->labels->key()][] = $spell;
        }
        $found = [];
        foreach ($byAlert as $ofOne) {
            usort($ofOne, static fn(Spell $a, Spell $b): int => $a->raised->ms <=> $b->raised->ms);
            array_push($found, ...self::ofOne($ofOne, $holding, $step));
        }
        usort($found, static fn(self $a, self $b): int => $b->times <=> $a->times);

        return $found;
    }

    /**
     * @param list<Spell> $spells of one alert, the oldest first
     *
     * @return list<self>
     */
    private static function ofOne(array $spells, Holding $holding, Duration $step): array
    {
        $found = [];
        $run = [];
        foreach ($spells as $spell) {
            $last = end($run);
            if ($last !== false && ($last->cleared === null || self::between($last, $spell)->isLongerThan(Duration::ofMinutes(self::LONGEST_CALM_MINUTES)))) {
                array_push($found, ...self::ofRun($run, $holding, $step));
                $run = [];
            }
            $run[] = $spell;
        }

        return [...$found, ...self::ofRun($run, $holding, $step)];
    }

    /**
     * @param list<Spell> $run
     *
     * @return list<self> none where it is too short
     */
    private static function ofRun(array $run, Holding $holding, Duration $step): array
    {
        if (count($run) < self::TIMES) {
            return [];
        }
        $longest = 0;
        foreach (array_slice($run, 1) as $i => $spell) {
            $longest = max($longest, self::between($run[$i], $spell)->ms);
        }
        $last = $run[count($run) - 1];

        return [
            new self(
                $run[0]->labels,
                $run[0]->raised,
                $last->cleared ?? $last->raised,
                count($run),
                Duration::ofMs($holding->clearHold->ms + $longest + $step->ms),
            ),
        ];
    }

    /** From the end of one to the onset of the next. */
    private static function between(Spell $first, Spell $next): Duration
    {
        return ($next->onset ?? $next->raised)->since($first->cleared ?? $first->raised);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Duration;

/**
 * What some alerts are worth, by what people marked. Of 9 alerts where 2 useful ones and 6 others were marked as noise, one of
 * the useful ones a minute later than it was: 2 useful, 0 lost, 6 noise, 1 nobody said anything of, later by 1 min.
 */
final readonly class Judged
{
    /**
     * @param int      $useful   alerts that were marked so, and are raised
     * @param int      $lost     those that are not raised any more
     * @param int      $noise    alerts of which it was said that they are noise
     * @param int      $unmarked alerts of which nobody said anything
     * @param Duration $later    by which the useful ones come at most later than when they were marked
     */
    private function __construct(
        public int $useful,
        public int $lost,
        public int $noise,
        public int $unmarked,
        public Duration $later,
    ) {
    }

    /**
     * @param list<Spell> $spells
     * @param list<Mark>  $marks
     */
    public static function of(array $spells, array $marks): self
    {
        $useful = $lost = $later = 0;
        foreach ($marks as $mark) {
            $met = array_filter($spells, $mark->isOf(...));
            if ($mark->worth === Worth::Noise) {
                continue;
            }
            if ($met === []) {
                ++$lost;
                continue;
            }
            ++$useful;
            $first = min(array_map(static fn(Spell $spell): int => $spell->raised->ms, $met));
            $later = max($later, $first - $mark->spell->raised->ms);
        }
        $noise = $unmarked = 0;
        foreach ($spells as $spell) {
            $said = array_filter($marks, static fn(Mark $mark): bool => $mark->isOf($spell));
            $isUseful = array_any($said, static fn(Mark $mark): bool => $mark->worth === Worth::Useful);
            $noise += $said !== [] && !$isUseful ? 1 : 0;
            $unmarked += $said === [] ? 1 : 0;
        }

        return new self($useful, $lost, $noise, $unmarked, Duration::ofMs($later));
    }

    public function others(): int
    {
        return $this->noise + $this->unmarked;
    }

    /** The useful ones count before all else, then the fewest others. */
    public function isBetterThan(self $other): bool
    {
        return [$this->lost, $this->others()] < [$other->lost, $other->others()];
    }

    public function isAsGoodAs(self $other): bool
    {
        return $this->lost === $other->lost && $this->others() === $other->others();
    }
}

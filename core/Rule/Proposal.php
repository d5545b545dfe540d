<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/**
 * The settings that keep the useful alerts with the fewest others. Of those that are as good as each other, the hold that tells
 * soonest, and of its limits the middle of the longest stretch: there a little more or less changes nothing.
 *
 * By example, limits 300 to 500 by 20 with the useful alerts kept up to 460 and noise up to 340: all from 360 to 460 are as good,
 * so 400 or 420 is proposed, whichever is nearer to what it was.
 */
final readonly class Proposal
{
    private const FEW_MARKS = 5;
    private const MANY_MARKS = 10;

    private function __construct(public Tried $now, public Tried $best, public int $marks)
    {
    }

    /**
     * @param list<Tried> $tried of one hold after the other, the limits of each rising
     *
     * @return self|null null where nothing that was tried is better than what it is
     */
    public static function of(Tried $now, array $tried, int $marks): ?self
    {
        $best = $now;
        foreach ($tried as $one) {
            $isSooner = $one->judged->isAsGoodAs($best->judged) && $best !== $now && $one->hold->ms < $best->hold->ms;
            $best = $one->judged->isBetterThan($best->judged) || $isSooner ? $one : $best;
        }

        return $best === $now ? null : new self($now, self::inTheMiddle($best, $tried, $now), $marks);
    }

    /** `from 4 marks, a first guess`. */
    public function sureness(): string
    {
        $marks = $this->marks === 1 ? 'one mark' : "{$this->marks} marks";

        return match (true) {
            $this->marks < self::FEW_MARKS => "from {$marks}, a first guess",
            $this->marks < self::MANY_MARKS => "from {$marks}, so fairly sure",
            default => "from {$marks}, so rather sure",
        };
    }

    /** @param list<Tried> $tried */
    private static function inTheMiddle(Tried $best, array $tried, Tried $now): Tried
    {
        $stretches = [];
        $stretch = [];
        foreach ($tried as $one) {
            if ($one->hold->ms === $best->hold->ms && $one->judged->isAsGoodAs($best->judged)) {
                $stretch[] = $one;
            } elseif ($stretch !== []) {
                $stretches[] = $stretch;
                $stretch = [];
            }
        }
        $stretches[] = $stretch;
        usort($stretches, static fn(array $a, array $b): int => count($b) <=> count($a));
        $longest = $stretches[0];
        if ($longest === []) {
            return $best;
        }
        $low = $longest[intdiv(count($longest) - 1, 2)];
        $high = $longest[intdiv(count($longest), 2)];
        $isLowNearer = abs(($low->limit ?? 0.0) - ($now->limit ?? 0.0)) <= abs(($high->limit ?? 0.0) - ($now->limit ?? 0.0));

        return $isLowNearer ? $low : $high;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/**
 * Between which values it makes no difference what something is. Whoever asks only on which side of 300 and 400 a mean lies, and
 * for how long, need not know it while all readings lie between 310 and 390: any value of these does for it.
 *
 * What comes close to a bound, and so long after as something may still follow from it, is worked out as ever.
 */
final readonly class Steady
{
    /** A mean of values that lie below a bound may lie a rounding error higher. */
    private const ROUNDING = 1e-9;

    /** @var list<float> rising */
    private array $bounds;

    /**
     * @param list<float> $bounds   in any order
     * @param int         $marginMs so long after it came across a bound something may follow
     */
    public function __construct(array $bounds, public int $marginMs)
    {
        $bounds = array_values(array_unique($bounds));
        sort($bounds);
        $this->bounds = $bounds;
    }

    /** @return int|null between which bounds all from the lowest to the highest lies; null where one lies among them */
    public function placeOf(float $lowest, float $highest): ?int
    {
        $low = 0;
        $high = count($this->bounds);
        $from = $lowest - abs($lowest) * self::ROUNDING;
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($this->bounds[$middle] < $from) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return isset($this->bounds[$low]) && $this->bounds[$low] <= $highest + abs($highest) * self::ROUNDING ? null : $low;
    }
}

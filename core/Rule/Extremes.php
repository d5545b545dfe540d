<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/**
 * The lowest and the highest of some values, block by block, so that whoever looks for one past a limit leaps over what holds
 * none. Blocks that lack a value, or hold what is no number, are never leapt over.
 *
 * Of 96 values with the highest of the first 48 at 300 and of the others at 500, a limit of 400 is looked for among the others only.
 */
final readonly class Extremes
{
    public const BLOCK = 48;

    /**
     * @param list<float> $lows  -INF where the block cannot be leapt over
     * @param list<float> $highs INF where the block cannot be leapt over
     */
    private function __construct(private array $lows, private array $highs)
    {
    }

    /** @param list<float|null> $values */
    public static function of(array $values): self
    {
        $lows = $highs = [];
        foreach (array_chunk($values, self::BLOCK) as $block) {
            $isWhole = !in_array(null, $block, true) && !is_nan((float) array_sum($block));
            $lows[] = $isWhole ? (float) min($block) : -INF;
            $highs[] = $isWhole ? (float) max($block) : INF;
        }

        return new self($lows, $highs);
    }

    /** Of one value, so many times. */
    public static function ofOne(float $value, int $count): self
    {
        $blocks = array_fill(0, intdiv($count + self::BLOCK - 1, self::BLOCK), $value);

        return new self($blocks, $blocks);
    }

    /** @return int the first place from there on that may hold one above; a place after the last where none does */
    public function leapWhileAtMost(int $from, float $limit): int
    {
        $block = intdiv($from, self::BLOCK);
        if (!isset($this->highs[$block]) || $this->highs[$block] > $limit) {
            return $from;
        }
        $count = count($this->highs);
        while (++$block < $count && $this->highs[$block] <= $limit);

        return $block * self::BLOCK;
    }

    /** @return int the first place from there on that may hold one below; a place after the last where none does */
    public function leapWhileAtLeast(int $from, float $limit): int
    {
        $block = intdiv($from, self::BLOCK);
        if (!isset($this->lows[$block]) || $this->lows[$block] < $limit) {
            return $from;
        }
        $count = count($this->lows);
        while (++$block < $count && $this->lows[$block] >= $limit);

        return $block * self::BLOCK;
    }

    /** @return int the first place from there on that may hold one that does not lie between; the lower end belongs to it or the higher */
    public function leapWhileBetween(int $from, float $low, float $high, bool $isHighIn): int
    {
        $block = intdiv($from, self::BLOCK);
        $count = count($this->lows);
        $first = $block;
        while (
            $block < $count
            && ($isHighIn
                ? $this->lows[$block] > $low && $this->highs[$block] <= $high
                : $this->lows[$block] >= $low && $this->highs[$block] < $high)
            && $this->highs[$block] < INF
        ) {
            ++$block;
        }

        return $block === $first ? $from : $block * self::BLOCK;
    }
}

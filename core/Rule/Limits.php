<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Series\Quantity;

/**
 * Limits on one side, one a severity, and the limit behind which all is well again: "minor above 300, major above 400,
 * critical above 1,200; clear at or below 250". At 380 that is minor, at 1,250 critical, at 270 neither past nor back.
 */
final readonly class Limits
{
    private const MOST = 4;

    /** @var non-empty-list<Level> the mildest first */
    public array $levels;
    public Level $mildest;

    /**
     * @param list<Level> $levels  one a severity, in any order
     * @param float       $clear   at or behind it all is well; of a range its lower end
     * @param float       $clearTo of a range its upper end
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function __construct(public Side $side, array $levels, public float $clear, public float $clearTo = INF)
    {
        usort($levels, static fn(Level $a, Level $b): int => $a->severity->rank() <=> $b->severity->rank());
        if ($levels === [] || count($levels) > self::MOST) {
            throw new BadRule('limits', 'must be one to four limits, each of a severity of its own');
        }
        $this->levels = $levels;
        $this->mildest = $levels[0];
        foreach ($levels as $i => $level) {
            $this->refuseNoLimit($level);
            if ($i > 0) {
                $this->refuseMilder($levels[$i - 1], $level);
            }
        }
        $this->refuseClearing();
    }

    /** @return Severity|null of the worst limit that the value is past; null where it is past none */
    public function severityAt(float $value): ?Severity
    {
        $severity = null;
        foreach ($this->levels as $level) {
            if (!$this->side->isPast($value, $level->limit, $level->to)) {
                break;
            }
            $severity = $level->severity;
        }

        return $severity;
    }

    public function isBack(float $value): bool
    {
        return $this->side->isBack($value, $this->clear, $this->clearTo);
    }

    /** @return int the first place from there on whose value is past a limit, or no number */
    public function firstPast(Track $track, int $from): int
    {
        $values = $track->columns[0];
        $limit = $this->mildest->limit;
        $to = $this->mildest->to;

        return match ($this->side) {
            Side::Above => self::whileAtMost($track, $values, $from, $limit),
            Side::Below => self::whileAtLeast($track, $values, $from, $limit),
            Side::Outside => self::whileWithin($values, $from, $limit, $to),
            Side::Inside => self::whileNotWithin($values, $from, $limit, $to),
        };
    }

    /**
     * One of the mildest severity stays as it is until it is back; a graver one as long as it is past its own limit.
     *
     * @return int the first place from there on at which one that is raised so does not stay as grave
     */
    public function firstNotAsGrave(Track $track, int $from, Severity $severity): int
    {
        $place = array_find_key($this->levels, static fn(Level $level): bool => $level->severity === $severity);
        if ($place === null || $this->side->isRange()) {
            return $from;
        }
        $limit = $place === 0 ? $this->clear : $this->levels[$place]->limit;
        $graver = ($this->levels[$place + 1] ?? null)?->limit;
        $values = $track->columns[0];
        $count = count($values);
        $isAbove = $this->side === Side::Above;
        [$low, $high] = $isAbove ? [$limit, $graver ?? INF] : [$graver ?? -INF, $limit];
        $leaps = $count >= 2 * Extremes::BLOCK ? $track->extremes() : null;
        while ($from < $count) {
            $from = $leaps?->leapWhileBetween($from, $low, $high, $isAbove) ?? $from;
            $end = $leaps === null ? $count : min($count, (intdiv($from, Extremes::BLOCK) + 1) * Extremes::BLOCK);
            while ($from < $end && $values[$from] !== null && self::liesBetween($values[$from], $low, $high, $isAbove)) {
                ++$from;
            }
            if ($from < $end) {
                return $from;
            }
        }

        return $count;
    }

    /** The limit itself is not past, the graver limit itself is not past that. */
    private static function liesBetween(float $value, float $low, float $high, bool $isAbove): bool
    {
        return $isAbove ? $value > $low && $value <= $high : $value >= $low && $value < $high;
    }

    /** `above 400 messages`. */
    public function words(string $unit): string
    {
        return "{$this->side->value} {$this->endWords($this->mildest->limit, $this->mildest->to, $unit)}";
    }

    /** `at or below 300 messages`. */
    public function backWords(string $unit): string
    {
        return "{$this->side->backWords()} {$this->endWords($this->clear, $this->clearTo, $unit)}";
    }

    /**
     * With the mildest limit elsewhere: the clear limit goes along, as far from it as it was in proportion; what is graver stays
     * where it is, and is left out where it would not lie further any more. Of ranges nothing can be moved.
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function moved(float $limit): self
    {
        if ($this->side->isRange()) {
            throw new BadRule('limits', 'of a range cannot be moved');
        }
        $was = $this->mildest->limit;
        $graver = array_filter(
            array_slice($this->levels, 1),
            fn(Level $level): bool => $this->side->isPast($level->limit, $limit),
        );

        return new self(
            $this->side,
            [new Level($this->mildest->severity, $limit), ...array_values($graver)],
            $was === 0.0 ? $limit : ($this->clear / $was) * $limit,
        );
    }

    /** @return list<float> of each limit, the mildest first; of ranges both ends */
    public function ends(): array
    {
        $ends = [];
        foreach ($this->levels as $level) {
            array_push($ends, $level->limit, ...($this->side->isRange() ? [$level->to] : []));
        }

        return $ends;
    }

    private function endWords(float $limit, float $to, string $unit): string
    {
        return $this->side->isRange()
            ? Quantity::words($limit, $unit) . ' to ' . Quantity::words($to, $unit)
            : Quantity::words($limit, $unit);
    }

    /** @param list<float|null> $values what is no number is neither above nor below, so it ends each of these loops */
    private static function whileAtMost(Track $track, array $values, int $i, float $limit): int
    {
        $count = count($values);
        // Of a few values each is looked at; of many, what is calm is leapt over.
        $leaps = $count >= 2 * Extremes::BLOCK ? $track->extremes() : null;
        while ($i < $count) {
            $i = $leaps?->leapWhileAtMost($i, $limit) ?? $i;
            $end = $leaps === null ? $count : min($count, (intdiv($i, Extremes::BLOCK) + 1) * Extremes::BLOCK);
            while ($i < $end && $values[$i] !== null && $values[$i] <= $limit) {
                ++$i;
            }
            if ($i < $end) {
                return $i;
            }
        }

        return $count;
    }

    /** @param list<float|null> $values */
    private static function whileAtLeast(Track $track, array $values, int $i, float $limit): int
    {
        $count = count($values);
        $leaps = $count >= 2 * Extremes::BLOCK ? $track->extremes() : null;
        while ($i < $count) {
            $i = $leaps?->leapWhileAtLeast($i, $limit) ?? $i;
            $end = $leaps === null ? $count : min($count, (intdiv($i, Extremes::BLOCK) + 1) * Extremes::BLOCK);
            while ($i < $end && $values[$i] !== null && $values[$i] >= $limit) {
                ++$i;
            }
            if ($i < $end) {
                return $i;
            }
        }

        return $count;
    }

    /** @param array<int, float|null> $values */
    private static function whileWithin(array $values, int $i, float $limit, float $to): int
    {
        $count = count($values);
        while ($i < $count && $values[$i] !== null && $values[$i] >= $limit && $values[$i] <= $to) {
            ++$i;
        }

        return $i;
    }

    /** @param array<int, float|null> $values */
    private static function whileNotWithin(array $values, int $i, float $limit, float $to): int
    {
        $count = count($values);
        while ($i < $count && $values[$i] !== null && ($values[$i] <= $limit || $values[$i] >= $to)) {
            ++$i;
        }

        return $i;
    }

    /** @throws BadRule */
    private function refuseNoLimit(Level $level): void
    {
        if (!is_finite($level->limit)) {
            throw new BadRule('limits', "must be finite numbers; that of {$level->severity->value} is not");
        }
        if ($this->side->isRange() && (!is_finite($level->to) || $level->to <= $level->limit)) {
            throw new BadRule('limits', "must name the lower and the upper end of the range of {$level->severity->value}");
        }
    }

    /** @throws BadRule */
    private function refuseMilder(Level $milder, Level $worse): void
    {
        if ($worse->severity === $milder->severity) {
            throw new BadRule('limits', "must be of a severity of their own each; {$worse->severity->value} is there twice");
        }
        $isFurther = match ($this->side) {
            Side::Above => $worse->limit > $milder->limit,
            Side::Below => $worse->limit < $milder->limit,
            Side::Outside => $worse->limit < $milder->limit && $worse->to > $milder->to,
            Side::Inside => $worse->limit > $milder->limit && $worse->to < $milder->to,
        };
        if (!$isFurther) {
            throw new BadRule(
                'limits',
                "must lie further {$this->side->value} the graver they are; that of {$worse->severity->value} does not",
            );
        }
    }

    /** @throws BadRule */
    private function refuseClearing(): void
    {
        $isNoRange = $this->side->isRange() && (!is_finite($this->clearTo) || $this->clearTo < $this->clear);
        if (!is_finite($this->clear) || $isNoRange) {
            throw new BadRule('clear', 'must be a finite number, of a range its lower and its upper end');
        }
        [$limit, $to] = [$this->mildest->limit, $this->mildest->to];
        $wouldFlap = match ($this->side) {
            Side::Above => $this->clear > $limit,
            Side::Below => $this->clear < $limit,
            Side::Outside => $this->clear < $limit || $this->clearTo > $to,
            Side::Inside => $this->clear > $limit || $this->clearTo < $to,
        };
        if ($wouldFlap) {
            throw new BadRule('clear', "must not lie {$this->side->value} the limit, or the alert would clear and raise at once");
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Instant;

/** One rung of a ladder, of the first time it is climbed or of a later one. */
final readonly class Rung
{
    private const A_LAP = 100;

    /**
     * @param non-empty-list<Who> $who
     * @param int                 $lap 0 the first time
     * @param list<string>        $by  channels; empty: as each person wishes
     */
    public function __construct(public int $number, public array $who, public Instant $dueAt, public int $lap = 0, public array $by = [])
    {
    }

    /** Of all laps each rung has a round of its own: whoever was told of the first one is told anew in the second. */
    public function round(): int
    {
        return self::A_LAP * $this->lap + $this->number;
    }

    public static function numberOf(int $round): int
    {
        return $round % self::A_LAP;
    }

    public static function lapOf(int $round): int
    {
        return intdiv($round, self::A_LAP);
    }

    /** `rung 2`, `rung 2, once more`: as the trail says it. */
    public static function words(int $round): string
    {
        return 'rung ' . self::numberOf($round) . ($round > self::A_LAP ? ', once more' : '');
    }
}

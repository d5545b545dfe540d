<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Whom an incident reaches, rung by rung, until someone acknowledges or it is over.
 *
 * Gathered by 03:12:10, second rung after 15 min, once round: who is on call hears at 03:12:10, the next on the roster
 * at 03:27:10, unless it was acknowledged or resolved before. Climbed twice, and 20 min after the last rung: the first one
 * again at 03:47:10.
 */
final readonly class Ladder
{
    private const REHEARSED_SECONDS = 60;

    /**
     * @param non-empty-list<LadderStep> $steps
     * @param int                        $times it is climbed, one after the other
     */
    public function __construct(public array $steps, public int $times = 1, public EndsWith $until = EndsWith::Acknowledged)
    {
    }

    /** Who is on call, and after a while the next one. */
    public static function ofTheRota(Duration $secondAfter): self
    {
        return new self([new LadderStep([Who::onCall()], $secondAfter), new LadderStep([Who::nextOnRoster()], Duration::none())]);
    }

    /** The same where it is tried out: climbed once, without waiting long. */
    public function rehearsed(): self
    {
        $longest = Duration::ofSeconds(self::REHEARSED_SECONDS);
        $sooner = static fn(LadderStep $step): LadderStep => new LadderStep(
            $step->who,
            $step->after->isLongerThan($longest) ? $longest : $step->after,
            $step->by,
        );

        return new self(array_map($sooner, $this->steps));
    }

    /**
     * @param int $lap the first one; it was climbed so often before
     *
     * @return list<Rung> from the instant at which it begins
     */
    public function from(Instant $at, int $lap = 0): array
    {
        $rungs = [];
        for ($time = 0; $time < $this->times; ++$time) {
            foreach ($this->steps as $i => $step) {
                $rungs[] = new Rung($i + 1, $step->who, $at, $lap + $time, $step->by);
                $at = $at->plus($step->after);
            }
        }

        return $rungs;
    }
}

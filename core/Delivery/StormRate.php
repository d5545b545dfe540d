<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * How many messages a minute somebody is sent by one way before all that comes more is summed up, however grave: nobody reads the
 * eleventh message of a minute, and whoever tries misses the one that matters.
 *
 * With 10 a minute: the 11th waits until 30 s after the last one left. All that waits by then leaves as one message, which names the
 * first and the gravest and counts as one. What was given to somebody by hand never waits.
 */
final readonly class StormRate
{
    private const WINDOW_SECONDS = 60;
    private const GATHER_SECONDS = 30;

    /** @param int $mostAMinute 0: as many as there are */
    public function __construct(public int $mostAMinute)
    {
    }

    /** @return Instant since when messages count */
    public static function since(Instant $now): Instant
    {
        return $now->minus(Duration::ofSeconds(self::WINDOW_SECONDS));
    }

    /**
     * @param list<Instant> $sent by this way to this person within the last minute, the newest first; what went together once
     *
     * @return Instant|null until when one more waits; null where it leaves
     */
    public function until(MessageKind $kind, array $sent): ?Instant
    {
        $isStorm = $this->mostAMinute > 0 && $kind !== MessageKind::Assigned && count($sent) >= $this->mostAMinute;

        return $isStorm ? $sent[0]->plus(Duration::ofSeconds(self::GATHER_SECONDS)) : null;
    }
}

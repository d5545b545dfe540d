<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Whom an incident reaches, rung by rung, until someone acknowledges.
 *
 * Opened 03:12:00, gather 10 s, second rung after 15 min: who is on call hears at 03:12:10, the next on the roster
 * at 03:27:10, unless it was acknowledged or resolved before.
 */
final readonly class Ladder
{
    public function __construct(public Duration $gather, public Duration $secondRungAfter)
    {
    }

    /** @return list<Rung> */
    public function rungs(Instant $openedAt): array
    {
        return $this->from($openedAt->plus($this->gather), 0);
    }

    /**
     * @param int $lap how often it was climbed before
     *
     * @return list<Rung> from an instant at which it begins anew, with nothing to gather
     */
    public function anew(Instant $at, int $lap): array
    {
        return $this->from($at, $lap);
    }

    /** @return list<Rung> */
    private function from(Instant $at, int $lap): array
    {
        return [
            new Rung(1, Listener::OnCall, $at, $lap),
            new Rung(2, Listener::NextOnRoster, $at->plus($this->secondRungAfter), $lap),
        ];
    }
}

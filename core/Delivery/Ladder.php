<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/**
 * Whom an incident reaches, rung by rung, until someone acknowledges.
 *
 * Opened 03:12:00, gather 10 s, second rung after 15 min: who is on call hears at 03:12:10, the next on the roster
 * at 03:27:10, unless it was acknowledged or resolved before.
 */
final readonly class Ladder
{
    public function __construct(public int $gatherMs, public int $secondRungAfterMs)
    {
    }

    /** @return list<Rung> */
    public function rungs(int $openedAtMs): array
    {
        return [
            new Rung(1, Listener::OnCall, $openedAtMs + $this->gatherMs),
            new Rung(2, Listener::NextOnRoster, $openedAtMs + $this->gatherMs + $this->secondRungAfterMs),
        ];
    }

    /**
     * Rungs to climb now: those that were due while the incident still had nobody.
     *
     * @param int|null $inHandAtMs when it was acknowledged or resolved
     *
     * @return list<Rung>
     */
    public function due(int $openedAtMs, ?int $inHandAtMs, int $nowMs): array
    {
        return array_values(
            array_filter(
                $this->rungs($openedAtMs),
                static fn(Rung $rung): bool => $rung->dueAtMs <= $nowMs && ($inHandAtMs === null || $rung->dueAtMs < $inHandAtMs),
            ),
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Rule\Severity;

/**
 * How many messages an hour somebody is sent by one way before what can wait is summed up.
 *
 * With 20 an hour: the 21st copy, the 21st that tells of a minor incident and the 21st that one has spread wait, and are told as one
 * message when the hour allows it. A rung of a critical or major incident is never withheld, however many there were; nor is
 * that one grew that grave, that it is over, or that it was given to somebody.
 */
final readonly class HourlyMost
{
    /** @param int $most 0: as many as there are */
    public function __construct(public int $most)
    {
    }

    /**
     * @param int $round of the message
     * @param int $sent  by this way to this person within the last hour
     */
    public function withholds(MessageKind $kind, int $round, Severity $severity, int $sent): bool
    {
        if ($this->most === 0 || $sent < $this->most) {
            return false;
        }
        $isRepeat = $kind === MessageKind::Worse && Widening::isOf($round);

        return $kind !== MessageKind::Assigned && ($kind->isCopy() || $isRepeat || Severity::Major->isWorseThan($severity));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** What a station says of itself. */
final readonly class StationLoad
{
    /**
     * @param int        $waiting      results that the centre has not taken yet, there and here
     * @param int        $lost         results that there was no room for
     * @param int        $lateMs       by how much all but a hundredth of its askings began late at most
     * @param float|null $askedAMinute
     * @param float|null $busyShare    of one processor core
     * @param int|null   $room         so many it could ask a minute
     * @param int        $clockAheadMs by how much its clock is wrong; its times are put right by that
     * @param string     $revision     of the orders that it is given
     */
    public function __construct(
        public int $waiting,
        public int $lost,
        public int $lateMs,
        public ?float $askedAMinute,
        public ?float $busyShare,
        public ?int $room,
        public int $clockAheadMs,
        public string $revision,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Entity\Target;

/** Asks checks of one kind, many at once. Whatever one of them meets stays with it. */
interface Asker
{
    /**
     * One that is to be started.
     *
     * @throws \Olivine\App\Platform\Problem where what is asked cannot be read any more
     */
    public function made(Target $target, ?int $dueMs, int $place): CheckRun;

    /** @throws \Olivine\App\Platform\Problem where what is asked cannot be so any more */
    public function start(CheckRun $run): void;

    /** @return int how many more may be asked at once */
    public function room(): int;

    public function inFlight(): int;

    /**
     * Moves everything on for at most this long.
     *
     * @return list<CheckRun> those that ended
     */
    public function advance(float $seconds): array;

    /** Lets go of whatever is being asked. */
    public function abandon(): void;
}

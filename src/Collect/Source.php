<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Exposition\BadExposition;

/**
 * One way in which readings come: by being asked for, many at once in one process. Whatever one target is set up with or
 * answers stays with it.
 */
interface Source
{
    public function asks(Target $target): bool;

    /** @return int how many more may be asked at once */
    public function room(): int;

    public function inFlight(): int;

    public function start(Target $target, int $dueMs): void;

    /**
     * Moves everything on for at most this long.
     *
     * @return list<Asking> those that ended
     */
    public function advance(float $seconds): array;

    /**
     * Puts what an answer brings into what is to be written.
     *
     * @throws BadExposition
     * @throws ScrapeRefused with why nothing of it is taken
     */
    public function read(Asking $asking, Taken $taken): void;

    /** What is noted of each asking, of failed ones too. */
    public function note(Asking $asking, Taken $taken): void;

    /**
     * What it keeps beside readings, within the transaction that writes them.
     *
     * @param list<Taken> $taken what it asked for
     */
    public function keep(array $taken): void;

    /** Whether it is asked by this process, wherever its slot is. */
    public function isAskedHere(Target $target): bool;

    /** What was set up anew since. */
    public function renew(): void;

    /** Nothing that is remembered of this target holds any more. */
    public function forget(int $targetId): void;

    /** Lets go of whatever is being asked. */
    public function abandon(): void;
}

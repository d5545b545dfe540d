<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Database;

/** What comes without anybody being asked, from what is known here already: each look is over as soon as it begins. */
abstract class KnownSource implements Source
{
    private const ROOM = 500;

    /** @var list<Asking> */
    private array $looks = [];

    abstract protected function kind(): SourceKind;

    /** @throws \Throwable what is set of it cannot be read any more, or not be worked out */
    abstract protected function look(Target $target, int $dueMs): Asking;

    /** One that came to nothing, to be failed with the reason. */
    abstract protected function none(Target $target, int $dueMs): Asking;

    public function asks(Target $target): bool
    {
        return $target->kind === $this->kind();
    }

    public function isAskedHere(Target $target): bool
    {
        return true;
    }

    public function room(): int
    {
        return self::ROOM - count($this->looks);
    }

    public function inFlight(): int
    {
        return count($this->looks);
    }

    public function start(Target $target, int $dueMs): void
    {
        try {
            $look = $this->look($target, $dueMs);
            $look->endedAt = microtime(true);
        } catch (\Throwable $fault) {
            if (Database::mayPass($fault)) {
                throw $fault;
            }
            // That stays with this one.
            $look = $this->none($target, $dueMs);
            $look->fail("How it stands cannot be told: {$fault->getMessage()}");
        }
        $this->looks[] = $look;
    }

    public function advance(float $seconds): array
    {
        [$ended, $this->looks] = [$this->looks, []];

        return $ended;
    }

    public function note(Asking $asking, Taken $taken): void
    {
        // What is noted of it are its readings.
    }

    public function keep(array $taken): void
    {
    }

    public function renew(): void
    {
    }

    public function abandon(): void
    {
        $this->looks = [];
    }
}

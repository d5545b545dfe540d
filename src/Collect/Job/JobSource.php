<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Olivine\App\Collect\Asking;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\ReadingPages;
use Olivine\App\Collect\Source;
use Olivine\App\Collect\SourceKind;
use Olivine\App\Collect\Taken;
use Olivine\App\Collect\Tick;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Store\SeriesRegister;

/** Jobs are not asked; how they stand by what they reported is noted as readings, again and again. */
final class JobSource implements Source
{
    private const ROOM = 500;

    /** @var array<int, ReadingPages> job → where its readings go */
    private array $pages = [];
    /** @var list<JobLook> */
    private array $looks = [];

    public function __construct(
        private readonly SeriesRegister $register,
        private readonly JobStandings $standings,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    public function asks(Target $target): bool
    {
        return $target->kind === SourceKind::Job;
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
            $look = new JobLook($target, $dueMs, $this->standings->of($target, $this->clock->now()));
            $look->endedAt = microtime(true);
        } catch (\Throwable $fault) {
            if (Database::mayPass($fault)) {
                throw $fault;
            }
            // What is set of it cannot be read any more, or not be worked out; that stays with it.
            $look = new JobLook($target, $dueMs, null);
            $look->fail("How it stands cannot be told: {$fault->getMessage()}");
        }
        $this->looks[] = $look;
    }

    public function advance(float $seconds): array
    {
        [$ended, $this->looks] = [$this->looks, []];

        return $ended;
    }

    public function read(Asking $asking, Taken $taken): void
    {
        $standing = $asking instanceof JobLook ? $asking->standing : throw new \LogicException('This was asked otherwise');
        if ($standing === null) {
            return;
        }
        $job = $asking->target;
        $pages = $this->pages[$job->id()] ??= new ReadingPages($job, 0, $this->register);
        $tick = $standing->verdict->needsSomebody() ? Tick::Refused : Tick::Taken;
        $taken->noted($pages->rows($standing->readings, $taken->atMs), count($standing->readings), $standing->words, $tick);
    }

    public function note(Asking $asking, Taken $taken): void
    {
        // What is noted of a job are its readings.
    }

    public function keep(array $taken): void
    {
    }

    public function renew(): void
    {
    }

    public function forget(int $targetId): void
    {
        unset($this->pages[$targetId]);
    }

    public function abandon(): void
    {
        $this->pages = $this->looks = [];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Olivine\App\Collect\Asking;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\KnownSource;
use Olivine\App\Collect\ReadingPages;
use Olivine\App\Collect\SourceKind;
use Olivine\App\Collect\Taken;
use Olivine\App\Collect\Tick;
use Olivine\App\Platform\Clock;
use Olivine\App\Store\SeriesRegister;

/** Jobs are not asked; how they stand by what they reported is noted as readings, again and again. */
final class JobSource extends KnownSource
{
    /** @var array<int, ReadingPages> job → where its readings go */
    private array $pages = [];

    public function __construct(
        private readonly SeriesRegister $register,
        private readonly JobStandings $standings,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    protected function kind(): SourceKind
    {
        return SourceKind::Job;
    }

    protected function look(Target $target, int $dueMs): JobLook
    {
        return new JobLook($target, $dueMs, $this->standings->of($target, $this->clock->now()));
    }

    protected function none(Target $target, int $dueMs): JobLook
    {
        return new JobLook($target, $dueMs, null);
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

    public function forget(int $targetId): void
    {
        unset($this->pages[$targetId]);
    }

    public function abandon(): void
    {
        parent::abandon();
        $this->pages = [];
    }
}

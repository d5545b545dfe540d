<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\JobRunRepository;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\App\Store\Standstills;
use Olivine\Core\Job\JobStanding;
use Olivine\Core\Job\Unseen;
use Olivine\Core\Time\Instant;

/** How jobs stand: for readings, for the pages, and for whoever asks, by the one judgement of the core. */
final class JobStandings
{
    private const RUNS = 30;
    private const KEEP_MS = 2_000;

    /** @var array<int, list<Unseen>> slot → when nobody could report */
    private array $unseen = [];
    /** @var array<int, Instant> job → when it was resumed last */
    private array $resumed = [];
    private ?Instant $knownAt = null;

    public function __construct(
        private readonly JobDefinitions $definitions,
        private readonly JobRunRepository $runs,
        private readonly Standstills $standstills,
        private readonly Connection $connection,
    ) {
    }

    /** @throws Problem where its settings cannot be read any more */
    public function of(Target $job, Instant $now): JobStanding
    {
        return $this->definitions->core($this->definitions->of($job))->judge(
            $this->runs->last($job->id(), self::RUNS),
            $this->since($job, $now),
            $now,
            $this->unseen($job, $now),
        );
    }

    /** From when on it is expected. */
    public function since(Target $job, Instant $now): Instant
    {
        $this->know($now);

        return ($this->resumed[$job->id()] ?? $job->createdAt)->later($job->createdAt);
    }

    /** @return list<Unseen> */
    public function unseen(Target $job, Instant $now): array
    {
        $this->know($now);

        return $this->unseen[PartName::Collector->slotOf($job->id())] ?? [];
    }

    private function know(Instant $now): void
    {
        if ($this->knownAt !== null && $now->since($this->knownAt)->ms < self::KEEP_MS && !$now->isBefore($this->knownAt)) {
            return;
        }
        $this->knownAt = $now;
        $this->unseen = $this->resumed = [];
        foreach ($this->standstills->bySlot($now) as $slot => $spans) {
            foreach ($spans as [$from, $to]) {
                $this->unseen[$slot][] = new Unseen(Instant::ofMs($from), Instant::ofMs($to));
            }
        }
        $rests = 'SELECT target_id, MAX(to_at) FROM target_rest WHERE to_at IS NOT NULL GROUP BY target_id';
        foreach ($this->connection->fetchAllNumeric($rests) as [$job, $at]) {
            $this->resumed[Scalar::int($job)] = Scalar::instant($at);
        }
    }
}

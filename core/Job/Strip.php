<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Time\Instant;

/** The times at which a job was to run beside those at which it ran. A run that nobody expected belongs to none of them. */
final readonly class Strip
{
    /** @param list<Unseen> $unseen spans in which it could not report */
    public function __construct(private Job $job, private Instant $now, private array $unseen = [])
    {
    }

    /**
     * @param list<JobRun> $runs in the order in which they began, from `from` on or earlier
     *
     * @return list<Expected> in the order of time, at most so many: up to now, and the next one
     */
    public function of(array $runs, Instant $from, int $most): array
    {
        $expected = [];
        $due = $this->job->times->next($from);
        $i = 0;
        while (count($expected) < $most) {
            $run = $runs[$i] ?? null;
            if ($run !== null && $run->beganAt->isBefore($this->job->earliest($due))) {
                $due = $run->beganAt->isBefore($from) ? $due : $this->job->dueAfter($run->beganAt);
                ++$i;
                continue;
            }
            $next = $this->job->times->next($due->at);
            $isServed = $run !== null && $run->beganAt->isBefore($this->job->earliest($next));
            $expected[] = new Expected($due->at, $this->state($due, $isServed ? $run : null), $isServed ? $run : null);
            if ($due->at->isAfter($this->now)) {
                break;
            }
            $due = $isServed ? $this->job->dueAfter($run->beganAt) : $next;
            $i += (int) $isServed;
        }

        return $expected;
    }

    private function state(Due $due, ?JobRun $run): DueState
    {
        return match (true) {
            $run !== null => $this->job->isOver($due, $run->beganAt) ? DueState::RanLate : DueState::Ran,
            !$this->job->isOver($due, $this->now) => DueState::Open,
            array_any($this->unseen, static fn(Unseen $span): bool => $span->has($due->at)) => DueState::Unseen,
            default => DueState::Missing,
        };
    }
}

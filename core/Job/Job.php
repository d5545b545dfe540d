<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * A job that should run by itself and says so: when it is to, how long it may wait and take, and how many of it may run at once.
 *
 * A backup is due daily at 02:30 with 15 minutes of grace. It began at 02:29:50, which is the run of 02:30: clocks differ by some
 * seconds. The next night nothing comes: from 02:30 it is late, from 02:45 it is missing, and it stays so until it runs, also where
 * that is at noon by hand.
 */
final readonly class Job
{
    /** @var array<string, string> what each job brings: metric → what it says */
    public const METRICS = [
        'job_in_order' => '0 where the job is missing, failing, too long or overlapping; 1 where it is not; none where nobody knows',
        'job_late_seconds' => 'For how long it should have begun; 0 where it is not due',
        'job_runs_missing' => 'How many runs should have come, each with its grace over',
        'job_runs_failed' => 'How many of its last runs failed, one after the other',
        'job_running' => 'How many of it run now',
        'job_running_seconds' => 'For how long the one that began first has run; 0 where none does',
        'job_overlong' => '1 where the one that runs, or else the last one that ended, took longer than it is given',
        'job_overlapping' => '1 where more of it run than may at once',
        'job_run_seconds' => 'How long its last run took',
        'job_since_success_seconds' => 'For how long no run of it has ended well',
    ];
    private const EARLY_MS = 60_000;
    /** Of a job without a longest time: then it is thought to have died without a word. */
    private const DIED_HOURS = 24;
    private const MOST_COUNTED = 100;

    public function __construct(
        public JobTimes $times,
        public Duration $grace,
        public ?Duration $longest = null,
        public int $mostAtOnce = 1,
    ) {
    }

    /**
     * @param list<JobRun> $runs   its last ones, the one that began last first
     * @param Instant      $since  from when on it is expected: when it was set up, or resumed
     * @param list<Unseen> $unseen spans in which it could not report
     */
    public function judge(array $runs, Instant $since, Instant $now, array $unseen = []): JobStanding
    {
        $began = $runs[0]->beganAt ?? null;
        $due = $began === null || $began->isBefore($since) ? $this->times->next($since) : $this->dueAfter($began);
        $isUnseen = false;
        for ($i = 0; $i < self::MOST_COUNTED && self::isWithin($due->at, $unseen) && !$due->latest->isAfter($now); ++$i) {
            [$isUnseen, $due] = [true, $this->times->next($due->at)];
        }
        $lateMs = max(0, $now->since($due->latest)->ms);
        $missing = $this->missing($due, $now);
        $running = $this->running($runs, $now);
        $ended = self::ended($runs);
        $failed = $this->failedInARow($runs, $now);
        $overlong = $this->overlong($running, $ended[0] ?? null, $now);
        $verdict = match (true) {
            $missing > 0 => $runs === [] ? JobVerdict::NeverReported : JobVerdict::Missing,
            $failed > 0 => JobVerdict::Failing,
            $overlong !== null => JobVerdict::TooLong,
            count($running) > $this->mostAtOnce => JobVerdict::Overlapping,
            $lateMs > 0 => JobVerdict::Late,
            $isUnseen => JobVerdict::Unseen,
            $running !== [] => JobVerdict::Running,
            $runs === [] => JobVerdict::Waiting,
            default => JobVerdict::Well,
        };
        $words = match ($verdict) {
            JobVerdict::NeverReported => 'It has never reported; it was due ' . Duration::ofMs($lateMs)->words() . ' ago',
            JobVerdict::Missing => 'It was due ' . Duration::ofMs($lateMs)->words() . ' ago and has not begun' . self::more($missing),
            JobVerdict::Failing => self::failedWords($failed, $runs),
            JobVerdict::TooLong => (string) $overlong,
            JobVerdict::Overlapping => count($running) . " of it run at once, where {$this->mostAtOnce} may",
            JobVerdict::Late => 'It was due ' . Duration::ofMs($lateMs)->words() . ' ago; it is given ' . $this->grace->words(),
            JobVerdict::Unseen => 'Olivine itself stood still when it was due, so nobody knows whether it ran',
            JobVerdict::Running => 'It has run for ' . $running[count($running) - 1]->took($now)->words(),
            JobVerdict::Waiting => 'It was not due yet',
            JobVerdict::Well => '',
        };
        $figures = [
            'job_in_order' => $verdict->needsSomebody() ? 0.0 : 1.0,
            'job_late_seconds' => $lateMs / 1000,
            'job_runs_missing' => (float) $missing,
            'job_runs_failed' => (float) $failed,
            'job_running' => (float) count($running),
            'job_running_seconds' => $running === [] ? 0.0 : $running[count($running) - 1]->took($now)->ms / 1000,
            'job_overlong' => $overlong === null ? 0.0 : 1.0,
            'job_overlapping' => count($running) > $this->mostAtOnce ? 1.0 : 0.0,
            'job_run_seconds' => isset($ended[0]) ? $ended[0]->took($now)->ms / 1000 : null,
            'job_since_success_seconds' => self::sinceSuccess($ended, $now),
        ];
        if ($verdict === JobVerdict::Unseen) {
            unset($figures['job_in_order'], $figures['job_late_seconds'], $figures['job_runs_missing']);
        }

        return new JobStanding($verdict, $words, $due->at, self::readings($figures));
    }

    /** When it is to run after it began: what began up to a minute before its time is the run of that time. */
    public function dueAfter(Instant $began): Due
    {
        $due = $this->times->next($began);

        return $began->isBefore($this->earliest($due)) ? $due : $this->times->next($due->at);
    }

    /** From when on a run is the one that is due: a quarter of the time to the next one before it, at most a minute. */
    public function earliest(Due $due): Instant
    {
        $gapMs = $this->times->next($due->at)->at->since($due->at)->ms;

        return $due->at->minus(Duration::ofMs(min(self::EARLY_MS, intdiv($gapMs, 4))));
    }

    public function isOver(Due $due, Instant $now): bool
    {
        return $due->latest->plus($this->grace)->isBefore($now);
    }

    private function missing(Due $due, Instant $now): int
    {
        $missing = 0;
        while ($missing < self::MOST_COUNTED && $this->isOver($due, $now)) {
            ++$missing;
            $due = $this->times->next($due->at);
        }

        return $missing;
    }

    /**
     * A run that never said that it ended is lost once it is past its time and another one has begun.
     *
     * @param list<JobRun> $runs
     *
     * @return list<JobRun>
     */
    private function running(array $runs, Instant $now): array
    {
        $longest = $this->longestOr();
        $running = [];
        foreach ($runs as $i => $run) {
            if ($run->endedAt === null && ($i === 0 || !$run->took($now)->isLongerThan($longest))) {
                $running[] = $run;
            }
        }

        return $running;
    }

    /**
     * @param list<JobRun> $runs
     *
     * @return list<JobRun> the one that ended last first
     */
    private static function ended(array $runs): array
    {
        $ended = array_values(array_filter($runs, static fn(JobRun $run): bool => $run->endedAt !== null));
        usort($ended, static fn(JobRun $a, JobRun $b): int => ($b->endedAt->ms ?? 0) <=> ($a->endedAt->ms ?? 0));

        return $ended;
    }

    /** @param list<JobRun> $runs */
    private function failedInARow(array $runs, Instant $now): int
    {
        $failed = 0;
        $longest = $this->longestOr();
        foreach ($runs as $i => $run) {
            $isLost = $run->endedAt === null && $i > 0 && $run->took($now)->isLongerThan($longest);
            if ($run->outcome === RunOutcome::Done) {
                break;
            }
            $failed += (int) ($isLost || $run->outcome === RunOutcome::Failed);
        }

        return $failed;
    }

    /** @param list<JobRun> $running */
    private function overlong(array $running, ?JobRun $lastEnded, Instant $now): ?string
    {
        $longest = $this->longestOr();
        $oldest = $running[count($running) - 1] ?? null;
        if ($oldest !== null && $oldest->took($now)->isLongerThan($longest)) {
            return "It has run for {$oldest->took($now)->words()}, and is given {$longest->words()}";
        }
        if ($running === [] && $this->longest !== null && $lastEnded?->took($now)->isLongerThan($longest) === true) {
            return "Its last run took {$lastEnded->took($now)->words()}, and is given {$longest->words()}";
        }

        return null;
    }

    private function longestOr(): Duration
    {
        return $this->longest ?? Duration::ofHours(self::DIED_HOURS);
    }

    /** @param list<JobRun> $ended */
    private static function sinceSuccess(array $ended, Instant $now): ?float
    {
        $good = array_find($ended, static fn(JobRun $run): bool => $run->outcome === RunOutcome::Done);

        return $good?->endedAt === null ? null : $now->since($good->endedAt)->ms / 1000;
    }

    /** @param list<JobRun> $runs */
    private static function failedWords(int $failed, array $runs): string
    {
        $last = array_find($runs, static fn(JobRun $run): bool => $run->outcome === RunOutcome::Failed);
        $how = match (true) {
            $last === null => 'without a word of its end',
            $last->exitCode !== null => "with exit code {$last->exitCode}",
            default => '',
        };

        return rtrim($failed === 1 ? "Its last run failed {$how}" : "Its last {$failed} runs failed" . ($how === '' ? '' : ", the last {$how}"));
    }

    private static function more(int $missing): string
    {
        return match (true) {
            $missing === 1 => '',
            $missing >= self::MOST_COUNTED => '; ' . self::MOST_COUNTED . ' runs or more are missing',
            default => "; {$missing} runs are missing",
        };
    }

    /** @param list<Unseen> $unseen */
    private static function isWithin(Instant $at, array $unseen): bool
    {
        return array_any($unseen, static fn(Unseen $span): bool => $span->has($at));
    }

    /**
     * @param array<string, float|null> $figures
     *
     * @return list<CheckReading>
     */
    private static function readings(array $figures): array
    {
        $readings = [];
        foreach ($figures as $metric => $value) {
            if ($value !== null) {
                $unit = str_ends_with($metric, '_seconds') ? 'seconds' : '';
                $readings[] = new CheckReading($metric, $value, unit: $unit, help: self::METRICS[$metric]);
            }
        }

        return $readings;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\JobRun;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\JobRunRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\Core\Job\RunOutcome;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Takes what jobs report. The same report twice counts once, where it names its run; an end without a beginning is a run of no length;
 * an end that names no run is that of the one that began last.
 */
final readonly class JobReports
{
    private const OUTPUT_BYTES = 16_384;
    private const OLDEST_DAYS = 7;
    private const MOST_A_MINUTE = 120;

    public function __construct(
        private EntityManagerInterface $entities,
        private JobRunRepository $runs,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param string|null $key  of the run, so that its end is told to be its own
     * @param int|null    $atMs when it happened, where that was not now: it could not be said then
     *
     * @throws Problem where it cannot be so
     */
    public function take(Target $job, Report $report, ?string $key, ?int $atMs, ?int $exitCode, string $output): void
    {
        $now = $this->clock->now();
        $at = $atMs === null ? $now : Instant::ofMs($atMs)->earlier($now);
        if ($at->isBefore($now->minus(Duration::ofDays(self::OLDEST_DAYS)))) {
            throw Problem::field('at', 'at must be milliseconds since 1970, not more than ' . self::OLDEST_DAYS . ' days ago');
        }
        if ($key !== null && preg_match('~^[\w.:-]{1,' . JobRun::KEY_LENGTH . '}$~D', $key) !== 1) {
            throw Problem::field('run', 'run must be letters, digits and . _ : -, at most ' . JobRun::KEY_LENGTH);
        }
        $this->entities->getConnection()->fetchOne('SELECT 1 FROM target WHERE id = ? FOR UPDATE', [$job->id()]);
        $run = $key === null ? null : $this->runs->ofKey($job->id(), $key);
        if ($report === Report::Began) {
            $this->begin($job, $run, $key, $at);
        } else {
            $run ??= $key === null ? $this->runs->open($job->id()) : null;
            $run ??= $this->begin($job, null, $key, $at);
            if ($run->endedAt === null) {
                $hasFailed = $report === Report::Failed || ($exitCode ?? 0) !== 0;
                $run->end($at, $hasFailed ? RunOutcome::Failed : RunOutcome::Done, $exitCode, mb_scrub(substr($output, -self::OUTPUT_BYTES)));
            }
        }
        $this->entities->flush();
    }

    /** @throws Problem 429 */
    private function begin(Target $job, ?JobRun $there, ?string $key, Instant $at): JobRun
    {
        if ($there !== null) {
            // Its end was told before its beginning: one of the two was held up on the way.
            $there->beganAt = $at->earlier($there->beganAt);

            return $there;
        }
        if ($this->runs->begunSince($job->id(), $this->clock->now()->minus(Duration::ofMinutes(1))) >= self::MOST_A_MINUTE) {
            throw new Problem(429, 'It has begun ' . self::MOST_A_MINUTE . ' times within a minute; so many runs are not kept');
        }
        $run = new JobRun($job->id(), $key, $at);
        $this->entities->persist($run);

        return $run;
    }
}

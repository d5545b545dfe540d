<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Olivine\App\Collect\Answer\CheckFault;
use Olivine\App\Collect\Answer\ExpectedRun;
use Olivine\App\Collect\Answer\Job;
use Olivine\App\Collect\Answer\JobPage;
use Olivine\App\Collect\Answer\Jobs;
use Olivine\App\Collect\Answer\JobSettings;
use Olivine\App\Collect\Answer\JobState;
use Olivine\App\Collect\Answer\ReportedRun;
use Olivine\App\Collect\Answer\RunOutput;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\JobRunRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Collect\TargetPages;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\Core\Job\Expected;
use Olivine\Core\Job\Job as Core;
use Olivine\Core\Job\JobRun;
use Olivine\Core\Job\Strip;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Jobs as the screens show them. */
final readonly class JobList
{
    /** Of each job: a line has no room for more. */
    private const MOST = 1_500;

    public function __construct(
        private TargetRepository $targets,
        private JobRunRepository $runs,
        private JobDefinitions $definitions,
        private JobStandings $standings,
        private JobKeys $keys,
        private TargetPages $pages,
        private Clock $clock = new Clock(),
    ) {
    }

    public function all(int $days): Jobs
    {
        $now = $this->clock->now();
        $from = $now->minus(Duration::ofDays($days));
        [$jobs, $unread] = [[], []];
        foreach ($this->targets->jobs() as $job) {
            try {
                $jobs[] = $this->over($job, $from, $now);
            } catch (Problem $fault) {
                $unread[] = new CheckFault($job->id(), $job->name, $fault->getMessage());
            }
        }

        return new Jobs($from->ms, $now->ms, $jobs, $unread);
    }

    /** @throws Problem where its settings cannot be read any more */
    public function page(Target $job, int $days, bool $mayReport): JobPage
    {
        $now = $this->clock->now();
        $from = $now->minus(Duration::ofDays($days));
        $page = $this->pages->of($job);

        return new JobPage(
            from: $from->ms,
            to: $now->ms,
            job: $this->over($job, $from, $now),
            address: $mayReport ? $this->keys->address($job) : null,
            incidents: $page->incidents,
            metrics: $page->metrics,
            rules: $page->rules,
        );
    }

    /** @throws Problem 404 */
    public function output(int $run): RunOutput
    {
        $kept = $this->runs->find($run) ?? throw new Problem(404, "There is no run {$run} any more: what is past its time is let go of");
        $packed = is_resource($kept->output) ? (string) stream_get_contents($kept->output) : '';

        return new RunOutput(self::run($kept->core()), $packed === '' ? '' : (string) @gzinflate($packed));
    }

    /** @throws Problem where they cannot be read any more */
    public function settings(Target $job): JobSettings
    {
        $fields = $this->definitions->of($job);

        return new JobSettings(
            id: $job->id(),
            name: $job->name,
            schedule: $this->definitions->core($fields)->times->words(),
            cron: $fields->cron,
            zone: $fields->zone,
            everySeconds: $fields->everySeconds,
            graceSeconds: $fields->graceSeconds,
            longestSeconds: $fields->longestSeconds,
            mostAtOnce: $fields->mostAtOnce,
            labels: LabelSet::of($job->ownLabels),
            paused: $job->paused,
            version: $job->version,
        );
    }

    /** @throws Problem */
    private function over(Target $job, Instant $from, Instant $now): Job
    {
        $core = $this->definitions->core($this->definitions->of($job));
        $standing = $this->standings->of($job, $now);
        $since = $this->standings->since($job, $now);
        $runs = $this->runs->since($job->id(), $from, self::MOST);
        // What was recorded before it was set up here, such as by an import, is shown too.
        $begins = isset($runs[0]) ? $runs[0]->beganAt->earlier($since) : $since;
        $strip = new Strip($core, $now, $this->standings->unseen($job, $now));
        $shown = $from->later($begins)->later(self::newest($core, $now));
        $shown = count($runs) < self::MOST ? $shown : $shown->later($runs[0]->beganAt);

        return new Job(
            settings: $this->settings($job),
            state: new JobState($standing->verdict, $standing->words, $standing->due->ms, $standing->verdict->needsSomebody()),
            expected: array_map(self::expected(...), $strip->of($runs, $shown, self::MOST)),
            runs: array_map(self::run(...), $runs),
        );
    }

    /** From when on there are not more of it than a line has room for. */
    private static function newest(Core $job, Instant $now): Instant
    {
        $next = $job->times->next($now)->at;
        $gap = $job->times->next($next)->at->since($next);

        return $now->minus($gap->times(self::MOST - 2));
    }

    private static function expected(Expected $one): ExpectedRun
    {
        return new ExpectedRun($one->at->ms, $one->state, $one->run?->id);
    }

    private static function run(JobRun $run): ReportedRun
    {
        return new ReportedRun($run->id, $run->beganAt->ms, $run->endedAt?->ms, $run->outcome, $run->exitCode);
    }
}

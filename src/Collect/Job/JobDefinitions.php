<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Olivine\App\Collect\Definition\JobFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Job\BadSchedule;
use Olivine\Core\Job\CronTimes;
use Olivine\Core\Job\EveryTimes;
use Olivine\Core\Job\Job;
use Olivine\Core\Job\JobTimes;
use Olivine\Core\Time\Duration;

/** What is set of a job, as it was written, and what that means. */
final readonly class JobDefinitions
{
    public function __construct(private Definitions $definitions, private Settings $settings)
    {
    }

    /** @throws Problem where it cannot be read any more */
    public function of(Target $target): JobFields
    {
        return $this->definitions->read(JobFields::class, ['name' => $target->name, 'labels' => $target->ownLabels] + ($target->asks ?? []));
    }

    /** @throws Problem naming the field and what it must be */
    public function core(JobFields $fields): Job
    {
        return new Job(
            $this->times($fields),
            Duration::ofSeconds($fields->graceSeconds),
            $fields->longestSeconds === null ? null : Duration::ofSeconds($fields->longestSeconds),
            $fields->mostAtOnce,
        );
    }

    /** @throws Problem */
    private function times(JobFields $fields): JobTimes
    {
        if ($fields->cron === null && $fields->everySeconds !== null) {
            return new EveryTimes(Duration::ofSeconds($fields->everySeconds));
        }
        if ($fields->cron === null || $fields->everySeconds !== null) {
            throw Problem::field('cron', 'A job has times, such as 30 2 * * *, or an interval, such as every 15 min: one of them');
        }
        $zone = $fields->zone ?? $this->settings->zone()->getName();
        if (!in_array($zone, \DateTimeZone::listIdentifiers(), true)) {
            throw Problem::field('zone', "There is no zone {$zone}; zones are named as Europe/Lisbon is");
        }
        try {
            return CronTimes::of($fields->cron, new \DateTimeZone($zone));
        } catch (BadSchedule $bad) {
            throw Problem::field('cron', $bad->getMessage());
        }
    }

    /** @return array<string, mixed> as it is kept of a target, beside its name and labels */
    public static function kept(JobFields $fields): array
    {
        return [
            'cron' => $fields->cron,
            'zone' => $fields->zone,
            'everySeconds' => $fields->everySeconds,
            'graceSeconds' => $fields->graceSeconds,
            'longestSeconds' => $fields->longestSeconds,
            'mostAtOnce' => $fields->mostAtOnce,
        ];
    }
}

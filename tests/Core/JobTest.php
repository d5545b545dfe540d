<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Job\BadSchedule;
use Olivine\Core\Job\CronTimes;
use Olivine\Core\Job\DueState;
use Olivine\Core\Job\EveryTimes;
use Olivine\Core\Job\Expected;
use Olivine\Core\Job\Job;
use Olivine\Core\Job\JobRun;
use Olivine\Core\Job\JobVerdict;
use Olivine\Core\Job\RunOutcome;
use Olivine\Core\Job\Strip;
use Olivine\Core\Job\Unseen;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** When jobs are due, and how they stand. */
final class JobTest extends TestCase
{
    private const LISBON = 'Europe/Lisbon';

    /** @return iterable<string, array{string, string, string, list<string>}> expression, zone, after, the next ones on the clocks */
    public static function schedules(): iterable
    {
        $berlin = 'Europe/Berlin';
        yield 'every night' => ['30 2 * * *', $berlin, '2026-06-01 02:30', ['2026-06-02 02:30 CEST', '2026-06-03 02:30 CEST']];
        yield 'the night without 02:30' => ['30 2 * * *', $berlin, '2026-03-28 02:30', ['2026-03-29 03:00 CEST', '2026-03-30 02:30 CEST']];
        yield 'the night with two of it' => ['30 2 * * *', $berlin, '2026-10-24 02:30', ['2026-10-25 02:30 CEST', '2026-10-26 02:30 CET']];
        yield 'each hour, where two are shown twice' => [
            '0 * * * *',
            $berlin,
            '2026-10-25 01:30',
            ['2026-10-25 02:00 CEST', '2026-10-25 02:00 CET', '2026-10-25 03:00 CET'],
        ];
        yield 'each half hour over the gap' => [
            '*/30 * * * *',
            $berlin,
            '2026-03-29 01:10',
            ['2026-03-29 01:30 CET', '2026-03-29 03:00 CEST', '2026-03-29 03:30 CEST'],
        ];
        yield 'clocks that move by half an hour' => ['0 2 * * *', 'Australia/Lord_Howe', '2026-10-03 02:00', ['2026-10-04 02:30 +11', '2026-10-05 02:00 +11']];
        yield 'a leap day' => ['0 6 29 2 *', 'UTC', '2026-01-01 00:00', ['2028-02-29 06:00 UTC']];
        yield 'weekdays' => ['0 6 * * 1-5', self::LISBON, '2026-11-27 06:00', ['2026-11-30 06:00 WET']];
    }

    /** @param list<string> $next */
    #[DataProvider('schedules')]
    public function testWhenItIsDue(string $expression, string $zone, string $after, array $next): void
    {
        $zone = new \DateTimeZone($zone);
        $times = CronTimes::of($expression, $zone);
        $at = Instant::of(new \DateTimeImmutable($after, $zone));
        foreach ($next as $expected) {
            $at = $times->next($at)->at;
            self::assertSame($expected, $at->in($zone)->format('Y-m-d H:i T'));
        }
    }

    public function testTheNightWithoutItsTimeLeavesRoomForBothWaysOfHavingIt(): void
    {
        $zone = new \DateTimeZone('Europe/Berlin');
        $due = CronTimes::of('30 2 * * *', $zone)->next(Instant::of(new \DateTimeImmutable('2026-03-28 12:00', $zone)));
        self::assertSame(['03:00', '03:30'], [$due->at->in($zone)->format('H:i'), $due->latest->in($zone)->format('H:i')]);
    }

    /** Whatever runs as time goes by comes at each minute whose clocks match; what runs at set hours once for each time of a day. */
    public function testDueTimesBesideAWalkThroughEachMinute(): void
    {
        mt_srand(20261129);
        foreach (['Europe/Berlin', 'America/Santiago', 'Australia/Lord_Howe', 'Asia/Kolkata'] as $name) {
            $zone = new \DateTimeZone($name);
            foreach (['2026-03-27', '2026-10-02', '2026-10-24'] as $date) {
                $day = new \DateTimeImmutable($date, $zone);
                $expression = mt_rand(0, 1) === 1 ? sprintf('%d */%d * * *', mt_rand(0, 59), mt_rand(1, 5)) : sprintf('*/%d * * * *', mt_rand(7, 29));
                $from = Instant::of($day);
                $walked = [];
                $cron = new \Cron\CronExpression($expression);
                for ($minute = 1; $minute <= 3 * 1440; ++$minute) {
                    $at = $from->plus(Duration::ofMinutes($minute));
                    if ($cron->isDue($at->in($zone)->format('Y-m-d H:i'), 'UTC')) {
                        $walked[] = $at->ms;
                    }
                }
                $times = CronTimes::of($expression, $zone);
                $said = [];
                for ($at = $times->next($from)->at; $at->ms <= $from->ms + 3 * 86_400_000; $at = $times->next($at)->at) {
                    $said[] = $at->ms;
                }
                self::assertSame($walked, $said, "{$expression} in {$name} from {$day->format('Y-m-d')}");
            }
        }
    }

    /** @return iterable<string, array{string, string}> */
    public static function badSchedules(): iterable
    {
        yield 'nothing' => ['', 'five parts'];
        yield 'four parts' => ['* * * *', 'five parts'];
        yield 'a minute that there is not' => ['61 * * * *', 'cannot be read'];
        yield 'words' => ['at half past two please', 'cannot be read'];
        yield 'a day that never comes' => ['0 0 30 2 *', 'never comes'];
        yield 'very long' => [str_repeat('1,', 5_000) . '1 * * * *', ''];
    }

    #[DataProvider('badSchedules')]
    public function testWhatIsNoSchedule(string $expression, string $words): void
    {
        try {
            self::assertNotSame('', CronTimes::of($expression, new \DateTimeZone('UTC'))->words());
            self::assertSame('', $words);
        } catch (BadSchedule $bad) {
            self::assertStringContainsString($words, $bad->getMessage());
        }
    }

    /** @return iterable<string, array{Job, list<JobRun>, string, JobVerdict, string, array<string, float|null>}> job, runs, now, what is said of it */
    public static function standings(): iterable
    {
        $backup = new Job(CronTimes::of('30 2 * * *', new \DateTimeZone('UTC')), Duration::ofMinutes(15), Duration::ofHours(1));
        $import = new Job(new EveryTimes(Duration::ofMinutes(15)), Duration::ofMinutes(5));
        $night = self::ran('2026-11-02 02:30', '2026-11-02 02:50');

        yield 'it was not due yet' => [$backup, [], '2026-11-02 02:29', JobVerdict::Waiting, 'not due yet', ['job_runs_missing' => 0.0, 'job_in_order' => 1.0]];
        yield 'late, in its grace' => [$backup, [], '2026-11-02 02:40', JobVerdict::Late, '10 min ago; it is given 15 min', ['job_late_seconds' => 600.0]];
        yield 'it never reported' => [
            $backup,
            [],
            '2026-11-02 02:45:01',
            JobVerdict::NeverReported,
            'never reported',
            ['job_in_order' => 0.0, 'job_runs_missing' => 1.0, 'job_run_seconds' => null],
        ];
        yield 'it ran' => [$backup, [$night], '2026-11-02 12:00', JobVerdict::Well, '', ['job_run_seconds' => 1200.0, 'job_since_success_seconds' => 33_000.0]];
        yield 'it began some seconds before its time' => [
            $backup,
            [self::ran('2026-11-03 02:29:40', '2026-11-03 02:35'), $night],
            '2026-11-03 03:00',
            JobVerdict::Well,
            '',
            ['job_runs_missing' => 0.0],
        ];
        yield 'by hand in the evening is not the run of the night' => [
            $backup,
            [self::ran('2026-11-02 20:00', '2026-11-02 20:05'), $night],
            '2026-11-03 02:46',
            JobVerdict::Missing,
            '16 min ago',
            ['job_runs_missing' => 1.0],
        ];
        yield 'two nights are missing' => [$backup, [$night], '2026-11-04 09:00', JobVerdict::Missing, '2 runs are missing', ['job_late_seconds' => 109_800.0]];
        yield 'missing until it runs, also by hand' => [
            $backup,
            [self::ran('2026-11-04 09:01'), $night],
            '2026-11-04 09:02',
            JobVerdict::Running,
            '1 min',
            ['job_running' => 1.0, 'job_running_seconds' => 60.0],
        ];
        yield 'it runs for too long' => [
            $backup,
            [self::ran('2026-11-03 02:30'), $night],
            '2026-11-03 03:31',
            JobVerdict::TooLong,
            '1 h 1 min, and is given 1 h',
            ['job_overlong' => 1.0, 'job_in_order' => 0.0],
        ];
        yield 'its last run took too long' => [
            $backup,
            [self::ran('2026-11-03 02:30', '2026-11-03 04:00')],
            '2026-11-03 12:00',
            JobVerdict::TooLong,
            'took 1 h 30 min',
            ['job_overlong' => 1.0],
        ];
        yield 'it failed twice, after a good one' => [
            $backup,
            [self::ran('2026-11-04 02:30', '2026-11-04 02:31', 3), self::ran('2026-11-03 02:30', '2026-11-03 02:31', 1), $night],
            '2026-11-04 12:00',
            JobVerdict::Failing,
            'last 2 runs failed, the last with exit code 3',
            ['job_runs_failed' => 2.0, 'job_since_success_seconds' => 205_800.0],
        ];
        yield 'missing goes before failing' => [
            $backup,
            [self::ran('2026-11-02 02:30', '2026-11-02 02:31', 3)],
            '2026-11-03 12:00',
            JobVerdict::Missing,
            'has not begun',
            ['job_runs_failed' => 1.0],
        ];
        yield 'a run that died without a word counts as failed once the next one is there' => [
            $backup,
            [self::ran('2026-11-03 02:30'), self::ran('2026-11-02 02:30')],
            '2026-11-03 02:40',
            JobVerdict::Failing,
            'without a word',
            ['job_running' => 1.0, 'job_overlapping' => 0.0],
        ];
        yield 'two at once' => [
            $import,
            [self::ran('2026-11-02 10:15'), self::ran('2026-11-02 10:00')],
            '2026-11-02 10:16',
            JobVerdict::Overlapping,
            '2 of it run at once',
            ['job_overlapping' => 1.0, 'job_running_seconds' => 960.0],
        ];
        yield 'an interval counts from the last begin' => [
            $import,
            [self::ran('2026-11-02 10:07', '2026-11-02 10:08')],
            '2026-11-02 10:26',
            JobVerdict::Late,
            '4 min ago',
            ['job_late_seconds' => 240.0],
        ];
        yield 'and is missing once its grace is over' => [
            $import,
            [self::ran('2026-11-02 10:07', '2026-11-02 10:08')],
            '2026-11-02 10:28',
            JobVerdict::Missing,
            '6 min ago',
            ['job_runs_missing' => 1.0],
        ];
        yield 'half a year without a word is counted up to a bound' => [
            $import,
            [],
            '2027-05-02 10:28',
            JobVerdict::NeverReported,
            'never reported',
            ['job_runs_missing' => 100.0],
        ];
    }

    /**
     * @param list<JobRun>              $runs
     * @param array<string, float|null> $figures
     */
    #[DataProvider('standings')]
    public function testHowItStands(Job $job, array $runs, string $now, JobVerdict $verdict, string $words, array $figures): void
    {
        $standing = $job->judge($runs, self::at('2026-11-01 12:00'), self::at($now));
        self::assertSame($verdict, $standing->verdict, $standing->words);
        self::assertStringContainsString($words, $standing->words);
        $found = array_column(array_map(static fn(CheckReading $one): array => [$one->metric, $one->value], $standing->readings), 1, 0);
        foreach ($figures as $metric => $value) {
            self::assertSame($value, $found[$metric] ?? null, $metric);
        }
    }

    public function testWhatWasDueWhileOlivineStoodStillIsNobodysFault(): void
    {
        $backup = new Job(CronTimes::of('30 2 * * *', new \DateTimeZone('UTC')), Duration::ofMinutes(15));
        $gap = [new Unseen(self::at('2026-11-03 02:10'), self::at('2026-11-03 02:50'))];
        $runs = [self::ran('2026-11-02 02:30', '2026-11-02 02:50')];
        $standing = $backup->judge($runs, self::at('2026-11-01 12:00'), self::at('2026-11-03 09:00'), $gap);
        self::assertSame(JobVerdict::Unseen, $standing->verdict);
        self::assertNotContains('job_in_order', array_column($standing->readings, 'metric'));
        $standing = $backup->judge($runs, self::at('2026-11-01 12:00'), self::at('2026-11-04 02:50'), $gap);
        self::assertSame(JobVerdict::Missing, $standing->verdict, 'the night after it is expected again');
        $strip = (new Strip($backup, self::at('2026-11-04 03:00'), $gap))->of($runs, self::at('2026-11-02 00:00'), 10);
        self::assertSame(['ran', 'unseen', 'missing', 'open'], self::states($strip));
    }

    /** @return iterable<string, array{Job, list<JobRun>, string, list<string>}> job, runs in order, now, "time state run" of each */
    public static function strips(): iterable
    {
        $hourly = new Job(CronTimes::of('0 * * * *', new \DateTimeZone('UTC')), Duration::ofMinutes(10));
        $runs = [
            self::ran('2026-11-02 09:59:30', id: 1),
            self::ran('2026-11-02 11:20', id: 2),
            self::ran('2026-11-02 11:40', id: 3),
            self::ran('2026-11-02 13:01', id: 4),
        ];
        yield 'set times' => [
            $hourly,
            $runs,
            '2026-11-02 14:05',
            ['10:00 ran 1', '11:00 ran late 2', '12:00 missing ', '13:00 ran 4', '14:00 open ', '15:00 open '],
        ];
        $import = new Job(new EveryTimes(Duration::ofMinutes(30)), Duration::ofMinutes(5));
        yield 'intervals' => [
            $import,
            [
                self::ran('2026-11-02 10:10', id: 1),
                self::ran('2026-11-02 10:41', id: 2),
                self::ran('2026-11-02 10:50', id: 3),
                self::ran('2026-11-02 12:25', id: 4),
            ],
            '2026-11-02 12:30',
            ['10:40 ran 2', '11:20 missing ', '11:50 missing ', '12:20 ran 4', '12:55 open '],
        ];
    }

    /**
     * @param list<JobRun> $runs
     * @param list<string> $lines
     */
    #[DataProvider('strips')]
    public function testExpectedBesideReal(Job $job, array $runs, string $now, array $lines): void
    {
        $strip = (new Strip($job, self::at($now)))->of($runs, self::at('2026-11-02 09:50'), 100);
        $utc = new \DateTimeZone('UTC');
        self::assertSame(
            $lines,
            array_map(static fn(Expected $one): string => "{$one->at->in($utc)->format('H:i')} {$one->state->value} " . ($one->run->id ?? ''), $strip),
        );
    }

    /** The page and the readings tell the same: a job is missing now exactly where the last time behind it that is over was not served. */
    public function testTheStripAndTheStandingAgree(): void
    {
        mt_srand(7);
        for ($trial = 0; $trial < 200; ++$trial) {
            $times = $trial % 2 === 0
                ? new EveryTimes(Duration::ofMinutes(mt_rand(3, 50)))
                : CronTimes::of('*/' . mt_rand(3, 30) . ' * * * *', new \DateTimeZone('UTC'));
            $job = new Job($times, Duration::ofMinutes(mt_rand(0, 4)));
            $since = self::at('2026-11-02 00:00');
            $at = $since;
            $runs = [];
            for ($i = 0; $i < 12; ++$i) {
                $at = $at->plus(Duration::ofSeconds(mt_rand(20, 4_000)));
                $runs[] = new JobRun($i, $at, $at->plus(Duration::ofSeconds(5)), RunOutcome::Done);
            }
            $now = $at->plus(Duration::ofSeconds(mt_rand(0, 9_000)));
            $standing = $job->judge(array_reverse($runs), $since, $now);
            $strip = (new Strip($job, $now))->of($runs, $since, 10_000);
            $missing = 0;
            foreach (array_reverse($strip) as $one) {
                if ($one->run !== null || $one->at->isBefore($runs[11]->beganAt)) {
                    break;
                }
                $missing += (int) ($one->state === DueState::Missing);
            }
            self::assertSame($missing > 0, $standing->verdict === JobVerdict::Missing, "trial {$trial}: " . implode(', ', self::states($strip)));
        }
    }

    /**
     * @param list<Expected> $strip
     *
     * @return list<string>
     */
    private static function states(array $strip): array
    {
        return array_map(static fn(Expected $one): string => $one->state->value, $strip);
    }

    private static function ran(string $began, ?string $ended = null, int $exitCode = 0, int $id = 1): JobRun
    {
        $outcome = $exitCode === 0 ? RunOutcome::Done : RunOutcome::Failed;

        return new JobRun($id, self::at($began), $ended === null ? null : self::at($ended), $ended === null ? null : $outcome, $exitCode);
    }

    private static function at(string $time): Instant
    {
        return Instant::of(new \DateTimeImmutable("{$time} UTC"));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\LadderStep;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\People;
use Olivine\Core\Delivery\ReplayedCourse;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WeekHours;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Exactly one path answers for an alert; what it groups, and up which ladder it goes. */
final class PathsTest extends TestCase
{
    /** @return iterable<string, array{array<string, string>, string, string, string}> labels, when, the path, and what its incident is of */
    public static function alerts(): iterable
    {
        $gate = static fn(string $severity): array => ['service' => 'boarding-gate', 'severity' => $severity, 'broker' => 'broker-north'];
        yield 'the first that matches' => [$gate('critical'), 'Fri 12:00', 'boarding', 'broker-north'];
        yield 'not grave enough for the first' => [$gate('minor'), 'Fri 12:00', 'everything else', 'boarding-gate'];
        yield 'a label that is not there' => [['service' => 'boarding-gate', 'severity' => 'major'], 'Fri 12:00', 'boarding', 'no broker'];
        yield 'within its hours' => [['kind' => 'certificate', 'severity' => 'minor'], 'Fri 09:00', 'certificates', 'certificates'];
        yield 'outside of them' => [['kind' => 'certificate', 'severity' => 'minor'], 'Sat 09:00', 'everything else', 'no service'];
        yield 'by the rule' => [['rule' => 'Disk fills', 'site' => 'skarn', 'host' => 'web-1'], 'Sat 09:00', 'disks', 'skarn, web-1'];
        yield 'nothing is known of it' => [[], 'Sat 09:00', 'everything else', 'no service'];
    }

    /** @param array<string, string> $labels */
    #[DataProvider('alerts')]
    public function testOnePathAnswers(array $labels, string $when, string $path, string $group): void
    {
        $at = Instant::of(new \DateTimeImmutable(str_replace(['Fri', 'Sat'], ['2026-11-27', '2026-11-28'], $when) . ' UTC'));
        $found = self::configuration()->answering(LabelSet::of($labels), $at);
        self::assertSame([$path, $group], [$found->name, $found->group(LabelSet::of($labels))]);
    }

    /** Two services, two brokers, two paths: what is of one path and one group is one incident. */
    public function testWhatIsOfOnePathAndOneGroupIsOneIncident(): void
    {
        $replay = new CourseReplay(self::configuration());
        $at = Instant::of(new \DateTimeImmutable('2026-11-27 12:00 UTC'));
        $boarding = static fn(string $queue, string $broker, string $severity): array => [
            'service' => 'boarding-gate', 'queue' => $queue, 'broker' => $broker, 'severity' => $severity,
        ];
        foreach (
            [
                $boarding('a', 'broker-north', 'critical'),
                $boarding('b', 'broker-south', 'major'),
                $boarding('c', 'broker-north', 'major'),
                $boarding('d', 'broker-north', 'minor'),
                ['service' => 'tickets', 'queue' => 'e', 'severity' => 'minor'],
                $boarding('f', 'broker-south', 'warning'),
            ] as $i => $labels
        ) {
            $raised = new AlertRaised($labels['queue'], LabelSet::of($labels), Severity::from($labels['severity']), "{$labels['queue']} is wrong", 'raised');
            $replay->happens($raised, $at->plus(Duration::ofSeconds($i)));
        }
        $incidents = array_map(
            static fn(ReplayedCourse $one): string => "{$one->state->path}: {$one->state->group} " . implode('', array_keys($one->state->alerts)),
            $replay->courses(),
        );
        self::assertSame(
            ['boarding: broker-north ca', 'boarding: broker-south b', 'everything else: boarding-gate fd', 'everything else: tickets e'],
            $incidents,
        );
        $saysWhy = static fn(array $one): bool => $one[1] instanceof Line && str_contains($one[1]->words, 'same broker');
        self::assertCount(1, array_filter($replay->courses()[0]->decisions, $saysWhy), 'and it says what made them one');
    }

    /** @return iterable<string, array{Ladder, list<string>}> the ladder, and who is told after how many minutes, nobody acting, in six hours */
    public static function ladders(): iterable
    {
        $step = static fn(int $minutes, Who ...$who): LadderStep => new LadderStep(array_values($who) ?: [Who::onCall()], Duration::ofMinutes($minutes));
        yield 'one after the other' => [
            new Ladder([$step(15, Who::onCall()), $step(15, Who::nextOnRoster()), $step(0, Who::person('duty@a'))]),
            ['0 1', '15 2', '30 9'],
        ];
        yield 'several at once, each once' => [new Ladder([$step(15, Who::onCall(), Who::role('lead'), Who::person('duty@a'))]), ['0 1', '0 7', '0 9']];
        yield 'twice round' => [new Ladder([$step(10, Who::onCall()), $step(30, Who::nextOnRoster())], 2), ['0 1', '10 2', '40 1', '50 2']];
        yield 'nobody is of a role: the next rung at once' => [
            new Ladder([$step(15, Who::role('nobodys')), $step(15, Who::nextOnRoster()), $step(0, Who::person('duty@a'))]),
            ['0 failed', '0 2', '30 9'],
        ];
        yield 'two empty ones one after the other' => [
            new Ladder([$step(15, Who::role('nobodys')), $step(15, Who::person('gone@a')), $step(0, Who::person('duty@a'))]),
            ['0 failed', '0 failed', '0 9'],
        ];
        yield 'an empty one in the middle' => [
            new Ladder([$step(15, Who::onCall()), $step(15, Who::person('gone@a')), $step(0, Who::person('duty@a'))]),
            ['0 1', '15 failed', '15 9'],
        ];
        yield 'all of them empty' => [new Ladder([$step(15, Who::role('nobodys')), $step(0, Who::person('gone@a'))]), ['0 failed', '0 failed']];
    }

    /** @param list<string> $told */
    #[DataProvider('ladders')]
    public function testClimbsRungByRung(Ladder $ladder, array $told): void
    {
        $configuration = self::configuration($ladder);
        $course = new Course($configuration);
        $began = Instant::of(new \DateTimeImmutable('2026-11-27 12:00 UTC'));
        $raised = new AlertRaised('a', LabelSet::of(['service' => 'tickets']), Severity::Major, 'a is wrong', 'raised');
        $state = $course->step(null, $raised, $began)->state;
        $said = [];
        for ($minute = 0; $minute < 360; ++$minute) {
            $progress = $course->step($state, new TimePassed(), $began->plus(Duration::ofMinutes($minute)));
            $state = $progress->state;
            foreach ($progress->decisions as $decision) {
                $once = $decision instanceof Line ? $decision->onceKey ?? '' : '';
                $said["{$once} " . count($said) * (int) ($once === '')] ??= match (true) {
                    $decision instanceof Tell => "{$minute} {$decision->person}",
                    $decision instanceof Line && $decision->kind === TrailKind::Failed => "{$minute} failed",
                    default => self::fail('nothing else happens'),
                };
            }
        }
        self::assertSame($told, array_values($said));

        $replay = new CourseReplay($configuration);
        $replay->happens($raised, $began);
        $replay->passTo($began->plus(Duration::ofMinutes(360)));
        $replayed = [];
        foreach ($replay->courses()[0]->decisions as [$at, $decision]) {
            $minute = intdiv($at->since($began)->ms, 60_000);
            $replayed[] = match (true) {
                $decision instanceof Tell => "{$minute} {$decision->person}",
                $decision instanceof Line && $decision->kind === TrailKind::Failed => "{$minute} failed",
                default => '',
            };
        }
        self::assertSame($told, array_values(array_filter($replayed)), 'and a replay climbs alike');
    }

    private static function configuration(?Ladder $ladder = null): Configuration
    {
        $ladder ??= Ladder::ofTheRota(Duration::ofMinutes(15));
        $office = new WeekHours([[[1, 2, 3, 4, 5], 480, 1_080]], new \DateTimeZone('Europe/Lisbon'));
        $path = static fn(string $name, ?string $for, ?WeekHours $hours, string ...$per): Path => new Path(
            $name,
            $for === null ? null : Parser::filterOf($for),
            $hours,
            array_values($per),
            Gather::lasting(Duration::none()),
            $ladder,
        );

        return new Configuration(
            [
                $path('boarding', 'service = "boarding-gate" and severity in ("critical", "major")', null, 'broker'),
                $path('certificates', 'kind = "certificate"', $office),
                $path('disks', 'rule like "Disk*"', null, 'site', 'host'),
                $path('everything else', null, null, 'service'),
            ],
            PlainRosters::turns([1, 2, 3], '2026-11-27'),
            new People(['duty@a' => 9], ['lead' => [7, 9]]),
        );
    }
}

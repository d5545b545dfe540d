<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Copy;
use Olivine\Core\Delivery\CopyTells;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Event;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Delivery\Event\MutesChanged;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Mute;
use Olivine\Core\Delivery\Mutes;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What is muted wakes nobody, and is not lost: by cases. */
final class MutesTest extends TestCase
{
    private const NIGHT = '2026-01-07 03:12:00 UTC';

    /** @return iterable<string, array{list<array{string, int, int}>, list<array{float, string}>, list<string>}> filter, from and to in minutes after 03:12 */
    public static function courses(): iterable
    {
        yield 'muted from its beginning: the ladder begins when that is over' => [
            [['', -30, 48]],
            [[0, 'raise a major'], [1, 'time'], [47, 'time'], [48, 'time'], [62, 'time'], [63, 'time']],
            ['0 hushed by mute 1 for 48 min more: nobody is told', '48 tell raised 1 to 1', '63 tell raised 2 to 2'],
        ];
        yield 'over while it is muted' => [
            [['', -30, 48]],
            [[0, 'raise a major'], [20, 'end a'], [48, 'time']],
            ['0 hushed by mute 1 for 48 min more: nobody is told', '20 nobody was told: it was over while all of it was muted'],
        ];
        yield 'muted after the first rung: the second one comes when that is over' => [
            [['', 5, 60]],
            [[0, 'raise a major'], [1, 'time'], [15.2, 'time'], [59, 'time'], [60, 'time'], [61, 'time']],
            ['0.167 tell raised 1 to 1', '15.167 hushed by mute 1 for 44 min more: nobody is told', '60 tell raised 2 to 2'],
        ];
        yield 'a mute that is over before the next rung changes nothing' => [
            [['', 5, 10]],
            [[0, 'raise a major'], [1, 'time'], [7, 'time'], [15.2, 'time']],
            ['0.167 tell raised 1 to 1', '15.167 tell raised 2 to 2'],
        ];
        yield 'two in a row are one hush' => [
            [['', -1, 20], ['', 20, 40]],
            [[0, 'raise a major'], [20, 'time'], [40, 'time']],
            ['0 hushed by mute 1 for 40 min more: nobody is told', '40 tell raised 1 to 1'],
        ];
        yield 'something that is not muted joins: told at once' => [
            [['host = "a"', -1, 600]],
            [[0, 'raise a major'], [10, 'time'], [12, 'raise b major'], [12.1, 'time'], [27.1, 'time']],
            ['0 hushed by mute 1 for 10 h more: nobody is told', '12 tell raised 1 to 1', '27 tell raised 2 to 2'],
        ];
        yield 'it grows graver than what is muted: told at once' => [
            [['severity = "minor"', -1, 600]],
            [[0, 'raise a minor'], [10, 'turn a critical'], [10.1, 'time']],
            ['0 hushed by mute 1 for 10 h more: nobody is told', '10 tell raised 1 to 1'],
        ];
        yield 'what is not muted ends, and the rest is: no further rung' => [
            [['host = "a"', -1, 600]],
            [[0, 'raise a major'], [0.1, 'raise b major'], [1, 'time'], [5, 'end b'], [16, 'time'], [600, 'time']],
            [
                '0 hushed by mute 1 for 10 h more: nobody is told', '0.167 tell raised 1 to 1',
                '15.167 hushed by mute 1 for 9 h 44 min more: nobody is told', '600 tell raised 2 to 3',
            ],
        ];
        yield 'worse while it is muted: nobody is told; that it is over whoever knows of it hears' => [
            [['', 2, 600]],
            [[0, 'raise a minor'], [1, 'time'], [3, 'turn a critical'], [9, 'end a']],
            ['0.167 tell raised 1 to 1', '3 hushed by mute 1 for 9 h 57 min more: nobody is told', '9 tell recovered 1 to 1'],
        ];
        yield 'copies do not inform of what is muted, nor of its end' => [
            [['', -1, 20]],
            [[0, 'raise a major for the board'], [10, 'end a']],
            ['0 hushed by mute 1 for 20 min more: nobody is told', '10 nobody was told: it was over while all of it was muted'],
        ];
        yield 'copies inform when it can be heard again' => [
            [['', -1, 20]],
            [[0, 'raise a major for the board'], [20, 'time'], [25, 'end a']],
            [
                '0 hushed by mute 1 for 20 min more: nobody is told', '20 tell copy opened 1 to 0', '20 tell raised 1 to 1',
                '25 tell recovered 1 to 1', '25 tell copy resolved 1 to 0',
            ],
        ];
    }

    /**
     * @param list<array{string, int, int}>  $mutes
     * @param list<array{float|int, string}> $happens
     * @param list<string>                   $decided
     */
    #[DataProvider('courses')]
    public function testWhatIsMuted(array $mutes, array $happens, array $decided): void
    {
        $built = [];
        foreach ($mutes as $i => [$filter, $from, $to]) {
            $built[] = self::mute($i + 1, $filter, $from, $to);
        }
        self::assertSame($decided, $this->course($happens, static fn(float $minute): Mutes => new Mutes($built)));
    }

    /** Ended by hand it goes on at once; set longer it waits on; set after it began, it is held back from then on. */
    public function testMutesThatChangeWhileItIsHushed(): void
    {
        $set = static fn(int ...$to): \Closure => static function (float $minute) use ($to): Mutes {
            foreach ($to as $from => $until) {
                if ($minute >= $from) {
                    $now = $until;
                }
            }

            return new Mutes([self::mute(1, '', -1, $now ?? 0)]);
        };
        $happens = [[0, 'raise a major'], [0.2, 'time'], [10, 'mutes'], [10.1, 'time'], [20, 'time'], [30, 'time'], [45, 'time'], [50, 'time']];
        $ended = $this->course($happens, $set(...[0 => 30, 10 => 10]));
        self::assertSame(['0 hushed by mute 1 for 30 min more: nobody is told', '10 tell raised 1 to 1', '25 tell raised 2 to 2'], $ended);
        $longer = $this->course($happens, $set(...[0 => 30, 10 => 45]));
        self::assertSame(
            ['0 hushed by mute 1 for 30 min more: nobody is told', '10 hushed by mute 1 for 35 min more: nobody is told', '45 tell raised 1 to 1'],
            $longer,
        );
    }

    /** Set by mistake and taken back a minute later, it wakes nobody sooner than the ladder says. */
    public function testAMuteThatIsTakenBackInTimeChangesNothing(): void
    {
        $mutes = static fn(float $minute): Mutes => new Mutes($minute >= 2.0 && $minute < 3.0 ? [self::mute(1, '', 2, 600)] : []);
        $happens = [[0, 'raise a major'], [0.2, 'time'], [2, 'mutes'], [3, 'mutes'], [3.1, 'time'], [14, 'time'], [15.2, 'time']];
        self::assertSame(
            ['0.167 tell raised 1 to 1', '2 hushed by mute 1 for 9 h 58 min more: nobody is told', '15.167 tell raised 2 to 2'],
            $this->course($happens, $mutes),
        );
    }

    /** Somebody has it in hand, and it is hushed for a time: when that is over it is hushed no more, and copies hear of it. */
    public function testWhatSomebodyHasIsHushedNoLongerThanTheMute(): void
    {
        $course = new Course(self::configuration(new Mutes([self::mute(1, '', -1, 20)])));
        $state = $course->step(null, self::event('raise a major for the board'), self::at(0))->state->heldBy(1);
        self::assertEquals(self::at(20), $course->nextAt($state));
        $progress = $course->step($state, new TimePassed(), self::at(20));
        self::assertNull($progress->state->hushedUntil);
        self::assertNull($course->nextAt($progress->state));
        self::assertContains('20 tell copy opened 1 to 0', array_map(self::words(...), $progress->decisions));
    }

    /** What was planned before it was muted waits when it is about to leave; that it is over does not. */
    public function testWhatIsAboutToLeaveWaits(): void
    {
        $course = new Course(self::configuration(new Mutes([self::mute(1, '', 5, 20)])));
        $state = $course->step(null, self::event('raise a major'), self::at(0))->state;
        $nothing = new Line(TrailKind::Alert, self::at(0), '');
        $waits = static fn(MessageKind $kind, float $minute): ?string => self::words($course->waits($state, $kind, self::at($minute))[1] ?? $nothing);
        self::assertSame('6 hushed by mute 1 for 14 min more: nobody is told', $waits(MessageKind::Raised, 6));
        self::assertSame('6 hushed by mute 1 for 14 min more: nobody is told', $waits(MessageKind::CopyOpened, 6));
        self::assertSame([null, null, null, null], [
            $waits(MessageKind::Raised, 4),
            $waits(MessageKind::Raised, 20),
            $waits(MessageKind::Recovered, 6),
            $waits(MessageKind::Assigned, 6),
        ]);
    }

    /** A storm beneath a mute: what it costs grows with what comes, and not with its square. */
    public function testAStormBeneathAMuteIsBorne(): void
    {
        $storm = static function (Mutes $mutes): array {
            $course = new Course(self::configuration($mutes));
            $state = null;
            $began = hrtime(true);
            for ($i = 0; $i < 1_500; ++$i) {
                $state = $course->step($state, self::event("raise alert-{$i} major"), self::at($i / 1_000))->state;
            }

            return [$state, (hrtime(true) - $began) / 1e6];
        };
        [, $plain] = $storm(new Mutes());
        [$state, $hushed] = $storm(new Mutes([self::mute(1, 'severity in ("major", "minor")', -1, 600)]));
        self::assertEquals(self::at(600), $state->hushedUntil);
        self::assertLessThan(6 * $plain, $hushed, 'milliseconds: each asks for itself, and not for all that came before');
    }

    /** 1,000 mutes and 200 windows of 100 spans each are asked of one alert. */
    public function testManyMutesCostLittle(): void
    {
        $all = [];
        for ($i = 0; $i < 1_200; ++$i) {
            $spans = [];
            for ($week = 0; $week < ($i < 1_000 ? 1 : 100); ++$week) {
                $from = self::at(10_080 * $week);
                $spans[] = [$from, $from->plus(Duration::ofHours(2))];
            }
            $all[] = new Mute($i, "mute {$i}", Parser::filterOf("host = \"h{$i}\" and severity in (\"major\", \"minor\")"), $spans);
        }
        $mutes = new Mutes($all);
        $about = LabelSet::of(['host' => 'nobody', 'severity' => 'major', 'service' => 'tickets']);
        $mutes->over($about, self::at(30));
        $best = INF;
        for ($try = 0; $try < 20; ++$try) {
            $began = hrtime(true);
            self::assertNull($mutes->over($about, self::at(30)));
            $best = min($best, (hrtime(true) - $began) / 1e6);
        }
        self::assertLessThan(5.0, $best, 'milliseconds, at its best');
    }

    /**
     * @param list<array{float|int, string}> $happens
     * @param \Closure(float): Mutes         $mutes   as they are set at a minute
     *
     * @return list<string> who is told, and what is held back
     */
    private function course(array $happens, \Closure $mutes): array
    {
        $state = null;
        $said = [];
        $once = [];
        foreach ($happens as [$minute, $what]) {
            $at = self::at($minute);
            $progress = (new Course(self::configuration($mutes((float) $minute))))->step($state, self::event($what), $at);
            $state = $progress->state;
            foreach ($progress->decisions as $decision) {
                $words = self::words($decision);
                if ($words === null || isset($once[$words])) {
                    continue;
                }
                $once[$words] = true;
                $said[] = $words;
                $state = $decision instanceof Tell && $decision->kind === MessageKind::Raised ? $state->toldTo($decision->person) : $state;
            }
            if ($state->isOver()) {
                break;
            }
        }

        return $said;
    }

    private static function words(Decision $decision): ?string
    {
        $minute = static fn(Instant $at): string => (string) round(($at->ms - self::at(0)->ms) / 60_000, 3);

        return match (true) {
            $decision instanceof Tell => "{$minute($decision->dueAt)} tell {$decision->kind->value} {$decision->round} to {$decision->person}",
            $decision instanceof Line && $decision->kind === TrailKind::HeldBack => "{$minute($decision->at)} {$decision->words}",
            default => null,
        };
    }

    private static function configuration(Mutes $mutes): Configuration
    {
        $ladder = Ladder::ofTheRota(Duration::ofMinutes(15));
        $board = new Copy('board', Parser::filterOf('board = "yes"'), null, [], ['board'], [CopyTells::Opened, CopyTells::Resolved]);

        return new Configuration(
            [new Path('everything else', null, null, ['service'], Gather::lasting(Duration::ofSeconds(10)), $ladder)],
            PlainRosters::turns([1, 2, 3], '2026-01-02'),
            others: ['board'],
            copies: [$board],
            mutes: $mutes,
        );
    }

    private static function mute(int $id, string $filter, int $from, int $to): Mute
    {
        return new Mute($id, "mute {$id}", $filter === '' ? null : Parser::filterOf($filter), [[self::at($from), self::at($to)]]);
    }

    private static function event(string $what): Event
    {
        [$verb, $key, $severity] = [...explode(' ', $what), '', ''];
        $board = str_ends_with($what, 'for the board') ? ['board' => 'yes'] : [];

        return match ($verb) {
            'raise' => new AlertRaised(
                $key,
                LabelSet::of(['service' => 'tickets', 'host' => $key, 'severity' => $severity] + $board),
                Severity::from($severity),
                "{$key} is wrong",
                'raised',
            ),
            'turn' => new AlertTurned($key, Severity::from($severity), "{$key} is worse", 'turned'),
            'end' => new AlertEnded($key, Phase::Calm, 'ended'),
            'mutes' => new MutesChanged(),
            default => new TimePassed(),
        };
    }

    private static function at(float|int $minute): Instant
    {
        return Instant::ofMs(1000 * (int) strtotime(self::NIGHT) + (int) round($minute * 60_000));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\Decision\Hasten;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Decision\Withdraw;
use Olivine\Core\Delivery\Decision\WithdrawOtherWays;
use Olivine\Core\Delivery\EndsWith;
use Olivine\Core\Delivery\Event;
use Olivine\Core\Delivery\Event\Acknowledged;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Delivery\Event\Declined;
use Olivine\Core\Delivery\Event\HandedBack;
use Olivine\Core\Delivery\Event\NotTaken;
use Olivine\Core\Delivery\Event\ResolvedByHand;
use Olivine\Core\Delivery\Event\Taken;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Hush;
use Olivine\Core\Delivery\IncidentState;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\LadderStep;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Mute;
use Olivine\Core\Delivery\Mutes;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\People;
use Olivine\Core\Delivery\ReplayedCourse;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Delivery\Wishes;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WeekHours;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Who is told of what, when, and who is not: by cases, and by what must hold whatever happens. */
final class CourseTest extends TestCase
{
    /** At 03:12 in the rota of 1, 2, 3 that changes at 06:00 and 18:00, 1 is on call and 2 is next; from 06:00 on it is 2 and 3. */
    private const NIGHT = '2026-01-07 03:12:00 UTC';

    /** @return iterable<string, array{list<array{float, string}>, list<string>}> minutes after 03:12 and what happens; what is decided */
    public static function courses(): iterable
    {
        yield 'nobody acts' => [
            [[0, 'raise a major'], [60, 'time']],
            ['60 tell raised 1 to 1', '60 tell raised 2 to 2'],
        ];
        yield 'told when it is due' => [
            [[0, 'raise a major'], [0.2, 'time'], [14, 'time'], [15.2, 'time'], [30, 'time']],
            ['0.2 tell raised 1 to 1', '15.2 tell raised 2 to 2'],
        ];
        yield 'over while it gathers' => [
            [[0, 'raise a major'], [0.1, 'end a calm']],
            ['0.1 withdraw', '0.1 held back: nobody was told: it was over before anybody was reached'],
        ];
        yield 'acknowledged before the second rung; who took it hears of the end, too' => [
            [[0, 'raise a major'], [0.2, 'time'], [2, 'acknowledge 3'], [20, 'time'], [30, 'end a calm']],
            ['0.2 tell raised 1 to 1', '30 tell recovered 1 to 1', '30 tell recovered 1 to 3', '30 withdraw'],
        ];
        yield 'whoever was told and took it hears of the end once' => [
            [[0, 'raise a major'], [0.2, 'time'], [2, 'acknowledge 1'], [30, 'end a calm']],
            ['0.2 tell raised 1 to 1', '30 tell recovered 1 to 1', '30 withdraw'],
        ];
        yield 'handed back: the ladder goes on' => [
            [[0, 'raise a major'], [0.2, 'time'], [2, 'acknowledge 1'], [20, 'hand back 1'], [20.1, 'time']],
            ['0.2 tell raised 1 to 1', '20.1 tell raised 2 to 2'],
        ];
        yield 'whoever was told cannot: the next rung is told at once, and no second time' => [
            [[0, 'raise a major'], [0.2, 'time'], [2, 'cannot 1'], [15.2, 'time'], [30, 'time']],
            ['0.2 tell raised 1 to 1', '2 tell raised 2 to 2'],
        ];
        yield 'whoever has it cannot any more: it is let go of, and climbs' => [
            [[0, 'raise a major'], [0.2, 'time'], [2, 'acknowledge 1'], [20, 'cannot 1'], [60, 'time']],
            ['0.2 tell raised 1 to 1', '20 tell raised 2 to 2'],
        ];
        yield 'one cannot, and another has it: it stays there' => [
            [[0, 'raise a major'], [0.2, 'time'], [2, 'acknowledge 3'], [3, 'cannot 1'], [60, 'time']],
            ['0.2 tell raised 1 to 1'],
        ];
        yield 'the last one cannot: nobody is told twice' => [
            [[0, 'raise a major'], [16, 'time'], [17, 'cannot 2'], [60, 'time']],
            ['16 tell raised 1 to 1', '16 tell raised 2 to 2'],
        ];
        yield 'acknowledged for a time: the ladder begins anew when that is over' => [
            [[0, 'raise a major'], [1, 'time'], [2, 'acknowledge 1 122'], [121, 'time'], [122, 'time'], [130, 'time'], [137, 'time'], [400, 'time']],
            ['1 tell raised 1 to 1', '122 tell raised 101 to 1', '137 tell raised 102 to 2'],
        ];
        yield 'acknowledged for a time, and over before' => [
            [[0, 'raise a major'], [1, 'time'], [2, 'acknowledge 1 122'], [60, 'end a calm']],
            ['1 tell raised 1 to 1', '60 tell recovered 1 to 1', '60 withdraw'],
        ];
        yield 'acknowledged for a time, handed back, and taken for good' => [
            [[0, 'raise a major'], [1, 'time'], [2, 'acknowledge 1 122'], [3, 'hand back 1'], [16, 'time'], [17, 'acknowledge 2'], [200, 'time']],
            ['1 tell raised 1 to 1', '16 tell raised 2 to 2'],
        ];
        yield 'taken for a time once more: a third lap' => [
            [[0, 'raise a major'], [1, 'time'], [2, 'acknowledge 1 10'], [10, 'time'], [11, 'acknowledge 1 20'], [20, 'time']],
            ['1 tell raised 1 to 1', '10 tell raised 101 to 1', '20 tell raised 201 to 1'],
        ];
        yield 'the time was over while nothing ran: from now on' => [
            [[0, 'raise a major'], [1, 'time'], [2, 'acknowledge 1 10'], [200, 'time'], [214, 'time'], [215, 'time']],
            ['1 tell raised 1 to 1', '200 tell raised 101 to 2', '215 tell raised 102 to 3'],
        ];
        yield 'a rung that came due while nothing ran goes to who is on call now' => [
            [[0, 'raise a major'], [200, 'time']],
            ['200 tell raised 1 to 2', '200 tell raised 2 to 3'],
        ];
        yield 'worse: told once to each who knows' => [
            [[0, 'raise a minor'], [1, 'time'], [2, 'acknowledge 3'], [3, 'raise b critical'], [4, 'turn a major'], [5, 'turn b critical']],
            ['1 tell raised 1 to 1', '3 hasten critical', '3 tell worse 4 to 1', '3 tell worse 4 to 3'],
        ];
        yield 'less grave: nobody is told' => [
            [[0, 'raise a critical'], [1, 'time'], [2, 'turn a minor'], [3, 'turn a critical']],
            ['1 tell raised 1 to 1'],
        ];
        yield 'lost from sight is no recovery' => [
            [[0, 'raise a major'], [1, 'time'], [2, 'raise b major'], [3, 'end b lost'], [4, 'end a calm']],
            ['1 tell raised 1 to 1', '4 tell lost 1 to 1', '4 withdraw'],
        ];
        yield 'paused: it ends, and nobody is told' => [
            [[0, 'raise a major'], [1, 'time'], [4, 'end a ended']],
            [
                '1 tell raised 1 to 1',
                '4 held back: over after 4 min: all it looked at was paused, removed or is looked at no more; nobody is told',
                '4 withdraw',
            ],
        ];
        yield 'resolved by hand while an alert is up' => [
            [[0, 'raise a major'], [1, 'time'], [4, 'resolve 2'], [5, 'raise a major'], [6, 'time']],
            ['1 tell raised 1 to 1', '4 tell recovered 1 to 1', '4 withdraw', '6 tell raised 1 to 1'],
        ];
        yield 'a way that fails gives way to the next one, the last one to nobody, and one that was taken away to the first again' => [
            [[0, 'raise a major'], [1, 'time'], [1.1, 'fails raised 1 1 e-mail'], [1.2, 'fails raised 1 1 pier-hook'], [1.3, 'fails raised 1 1 gone-hook']],
            [
                '1 tell raised 1 to 1',
                '1.1 failed: e-mail is away',
                '1.1 tell raised 1 to 1 by pier-hook',
                '1.2 failed: pier-hook is away',
                '1.3 failed: gone-hook is away',
                '1.3 tell raised 1 to 1',
            ],
        ];
        yield 'what was said before is not said again, and goes the other way all the same' => [
            [[0, 'raise a major'], [1, 'time'], [1.1, 'fails-again raised 1 1 e-mail']],
            ['1 tell raised 1 to 1', '1.1 tell raised 1 to 1 by pier-hook'],
        ];
        yield 'told by one way: by no other' => [
            [[0, 'raise a major'], [1, 'time'], [1.1, 'fails raised 1 1 e-mail'], [1.2, 'takes raised 1 1 pier-hook'], [5, 'end a calm']],
            [
                '1 tell raised 1 to 1',
                '1.1 failed: e-mail is away',
                '1.1 tell raised 1 to 1 by pier-hook',
                '1.2 told by pier-hook: raised 1 to 1 by no other way',
                '5 tell recovered 1 to 1',
                '5 withdraw',
            ],
        ];
        yield 'in hand or over by then: it goes no other way' => [
            [[0, 'raise a major'], [1, 'time'], [2, 'acknowledge 3'], [3, 'fails raised 1 1 e-mail'], [4, 'end a calm'], [5, 'fails raised 1 1 e-mail']],
            [
                '1 tell raised 1 to 1',
                '3 failed: e-mail is away',
                '4 tell recovered 1 to 1',
                '4 tell recovered 1 to 3',
                '4 withdraw',
                '5 failed: e-mail is away',
            ],
        ];
        yield 'over: the end is told by the next way, too' => [
            [[0, 'raise a major'], [1, 'time'], [4, 'end a calm'], [5, 'fails recovered 1 1 e-mail'], [6, 'takes recovered 1 1 pier-hook']],
            [
                '1 tell raised 1 to 1',
                '4 tell recovered 1 to 1',
                '4 withdraw',
                '5 failed: e-mail is away',
                '5 tell recovered 1 to 1 by pier-hook',
                '6 told by pier-hook: recovered 1 to 1 by no other way',
            ],
        ];
        yield 'the last of several ends it' => [
            [[0, 'raise a major'], [0, 'raise b minor'], [1, 'time'], [2, 'end a calm'], [3, 'raise a major'], [4, 'end b calm'], [5, 'end a calm']],
            ['1 tell raised 1 to 1', '5 tell recovered 1 to 1', '5 withdraw'],
        ];
    }

    /**
     * @param list<array{float, string}> $happens
     * @param list<string>               $decided
     */
    #[DataProvider('courses')]
    public function testCourses(array $happens, array $decided): void
    {
        $course = new Course(self::configuration(3));
        $state = null;
        $said = [];
        foreach ($happens as [$minutes, $what]) {
            $at = self::night()->plus(Duration::ofMs((int) ($minutes * 60_000)));
            $progress = $course->step($state, self::event($what), $at);
            $state = $progress->state;
            foreach ($progress->decisions as $decision) {
                $state = self::sent($state, $decision);
                $said[] = "{$minutes} " . self::said($decision);
            }
        }
        self::assertSame($decided, array_values(array_filter($said, static fn(string $one): bool => !str_contains($one, ' line: '))));
    }

    public function testARungWithoutAnybodySaysSoAndIsClimbedWhenSomebodyIsThere(): void
    {
        $at = self::night()->plus(Duration::ofMinutes(1));
        $opened = (new Course(self::configuration(0)))->step(null, self::event('raise a major'), self::night())->state;
        $empty = (new Course(self::configuration(0)))->step($opened, new TimePassed(), $at);
        $words = static fn(int $rung): string => "failed: rung {$rung} reaches nobody: there is no roster; make one";
        self::assertSame([$words(1), $words(2)], array_map(self::said(...), $empty->decisions), 'it falls through at once');
        $filled = (new Course(self::configuration(1)))->step($empty->state, new TimePassed(), $at);
        self::assertSame(['tell raised 1 to 1'], array_map(self::said(...), $filled->decisions));
    }

    public function testWhatWasDecidedIsAskedAgainWhenItLeaves(): void
    {
        $course = new Course(self::configuration(1));
        $open = $course->step(null, self::event('raise a major'), self::night())->state;
        $over = $open->over(self::night());
        $expected = [
            'raised' => [null, 'somebody had it in hand before this was sent', 'the incident was over before this was sent'],
            'worse' => [null, null, 'the incident was over before this was sent'],
            'recovered' => ['it came up again before this was sent', 'it came up again before this was sent', null],
            'lost' => ['it came up again before this was sent', 'it came up again before this was sent', null],
            'assigned' => ['nobody had it in hand any more before this was sent', null, 'the incident was over before this was sent'],
            'copy opened' => [null, null, 'the incident was over before this was sent'],
            'copy worse' => [null, null, 'the incident was over before this was sent'],
            'copy resolved' => ['it came up again before this was sent', 'it came up again before this was sent', null],
        ];
        foreach (MessageKind::cases() as $kind) {
            $states = [$open, $open->heldBy(1), $over];
            self::assertSame($expected[$kind->value], array_map(static fn(IncidentState $state): ?string => $course->overtaken($state, $kind), $states));
        }
    }

    /** Whatever happens, in whatever order, and whenever somebody looks: nobody is told twice, and no alert comes to its rest unheard without a word of it. */
    public function testNoAlertComesToItsRestUnheardWithoutAWord(): void
    {
        $random = new Randomizer(new Mt19937(1_127));
        $rested = 0;
        for ($round = 0; $round < 3_000; ++$round) {
            $configuration = self::anyConfiguration($random);
            $course = new Course($configuration);
            $state = null;
            $decisions = [];
            $at = self::night()->plus(Duration::ofMinutes($random->getInt(0, 1_440)));
            $keys = ['a', 'b', 'c'];
            for ($i = 0; $i < 25 && $state?->isOver() !== true; ++$i) {
                $at = $at->plus(Duration::ofMs($random->getInt(0, 400_000)));
                $progress = $course->step($state, self::something($random, $state, $keys), $at);
                self::assertNothingWrong($configuration, $state, $progress->state, $progress->decisions, $at);
                $state = $progress->state;
                foreach ($progress->decisions as $decision) {
                    $decisions[] = $decision;
                    // Some never get through.
                    $state = $random->getInt(0, 4) === 0 ? $state : self::sent($state, $decision);
                }
            }
            $once = array_map(static fn(Tell $tell): string => self::said($tell), self::tells($decisions));
            self::assertSame(array_unique($once), $once, 'nobody is told twice');
            if ($state->isOver()) {
                ++$rested;
                $heard = $state->told !== [] || $state->heldBy !== null;
                $why = [TrailKind::HeldBack, TrailKind::Failed, TrailKind::Person];
                $words = array_filter($decisions, static fn(Decision $one): bool => $one instanceof Line && in_array($one->kind, $why, true));
                self::assertTrue($heard || $words !== [], 'nobody heard, and nothing says why');
            }
        }
        self::assertGreaterThan(500, $rested);
    }

    /** A replay decides what live decided, however often live looked in between. */
    public function testAReplayIsWhatLiveDecided(): void
    {
        $random = new Randomizer(new Mt19937(27));
        for ($round = 0; $round < 300; ++$round) {
            $configuration = self::anyConfiguration($random);
            [$seldom, $often] = [new CourseReplay($configuration), new CourseReplay($configuration)];
            $up = [];
            $at = self::night();
            for ($i = 0; $i < 40; ++$i) {
                $at = $at->plus(Duration::ofMs($random->getInt(0, 600_000)));
                $key = ['a', 'b', 'c', 'd'][$random->getInt(0, 3)];
                $group = in_array($key, ['a', 'b'], true) ? 'tickets' : 'gates';
                $severity = Severity::cases()[$random->getInt(0, 3)];
                $event = match (true) {
                    !isset($up[$key]) => new AlertRaised(
                        $key,
                        LabelSet::of(['service' => $group, 'severity' => $severity->value]),
                        $severity,
                        "{$key} is wrong",
                        'raised'
                    ),
                    $random->getInt(0, 2) === 0 => new AlertTurned($key, $severity, "{$key} is worse", 'turned'),
                    default => new AlertEnded($key, [Phase::Calm, Phase::Lost, Phase::Ended][$random->getInt(0, 2)], 'ended'),
                };
                $up[$key] = true;
                if ($event instanceof AlertEnded) {
                    unset($up[$key]);
                }
                $seldom->happens($event, $at);
                for ($look = 0; $look < 3; ++$look) {
                    $often->passTo($at->minus(Duration::ofMs($random->getInt(0, 60_000))));
                }
                $often->happens($event, $at);
            }
            $shown = static fn(CourseReplay $replay): array => array_map(
                static fn(ReplayedCourse $one): array => array_map(
                    static fn(array $decision): string => "{$decision[0]->ms} " . self::said($decision[1]),
                    $one->decisions,
                ),
                $replay->courses(),
            );
            self::assertSame($shown($seldom), $shown($often));
            foreach ($seldom->courses() as $one) {
                self::assertSame($one->state->isOver(), $one->state->up() === []);
            }
        }
    }

    /** @param list<Decision> $decisions */
    private static function assertNothingWrong(
        Configuration $configuration,
        ?IncidentState $before,
        IncidentState $after,
        array $decisions,
        Instant $at,
    ): void {
        $isQuiet = array_any($decisions, static fn(Decision $one): bool => $one instanceof Line && str_starts_with($one->onceKey ?? '', 'quiet'));
        $hush = new Hush($configuration->mutes);
        foreach (self::tells($decisions) as $tell) {
            $isOfTheRaise = $tell->kind === MessageKind::Raised || $tell->kind === MessageKind::Worse;
            self::assertFalse($isOfTheRaise && $hush->over($after, $at) !== null, 'of what is muted nobody is told that it came up');
            self::assertTrue($isQuiet || !$tell->dueAt->isAfter($at), 'nobody is told before it is due, or has quiet hours');
            if ($tell->kind === MessageKind::Raised && $configuration->pathNamed($after->path)->ladder->until === EndsWith::Acknowledged) {
                self::assertSame(IncidentStatus::Open, $after->status, 'of what is in hand or over nobody is told as though it were not');

                continue;
            }
            if ($tell->kind === MessageKind::Raised) {
                self::assertFalse($after->isOver());

                continue;
            }
            $known = $before === null ? [] : [...$before->told, $before->heldBy];
            self::assertContains($tell->person, $known, 'whoever knows of it, and nobody else');
            self::assertSame($tell->kind === MessageKind::Worse, !$after->isOver());
        }
        self::assertSame($after->isOver(), $after->up() === [], 'it is over when all of it is');
    }

    /** @param list<string> $keys */
    private static function something(Randomizer $random, ?IncidentState $state, array $keys): Event
    {
        $key = $keys[$random->getInt(0, 2)];
        $severity = Severity::cases()[$random->getInt(0, 3)]->value;
        if ($state === null) {
            return self::event("raise {$key} {$severity}");
        }
        $isUp = ($state->alerts[$key] ?? null)?->isUp() === true;
        $end = ['calm', 'calm', 'calm', 'lost', 'ended'][$random->getInt(0, 4)];
        $person = $random->getInt(1, 3);
        $isEndedByHand = $random->getInt(0, 5) === 0;

        return match ($random->getInt(0, 5)) {
            0, 1 => self::event($isUp ? "end {$key} {$end}" : "raise {$key} {$severity}"),
            2 => self::event($isUp ? "turn {$key} {$severity}" : 'time'),
            3 => self::event(match (true) {
                $isEndedByHand => "resolve {$person}",
                $state->status === IncidentStatus::Open => "acknowledge {$person}",
                default => "hand back {$person}",
            }),
            4 => self::event($random->getInt(0, 3) === 0 ? "cannot {$person}" : 'time'),
            default => self::event('time'),
        };
    }

    private static function event(string $what): Event
    {
        $words = explode(' ', $what);

        return match ($words[0]) {
            'raise' => new AlertRaised(
                $words[1],
                LabelSet::of(['service' => 'tickets', 'severity' => $words[2]]),
                Severity::from($words[2]),
                "{$words[1]} is wrong",
                'raised',
            ),
            'turn' => new AlertTurned($words[1], Severity::from($words[2]), "{$words[1]} is worse", 'turned'),
            'end' => new AlertEnded($words[1], Phase::from($words[2]), 'ended'),
            'acknowledge' => new Acknowledged(
                (int) $words[1],
                'Somebody',
                until: isset($words[2]) ? self::night()->plus(Duration::ofMinutes((int) $words[2])) : null,
            ),
            'hand' => new HandedBack((int) $words[2], 'Somebody'),
            'cannot' => new Declined((int) $words[1], 'Somebody'),
            'resolve' => new ResolvedByHand((int) $words[1], 'Somebody'),
            'fails' => new NotTaken(MessageKind::from($words[1]), (int) $words[2], (int) $words[3], $words[4], "{$words[4]} is away"),
            'fails-again' => new NotTaken(MessageKind::from($words[1]), (int) $words[2], (int) $words[3], $words[4], ''),
            'takes' => new Taken(MessageKind::from($words[1]), (int) $words[2], (int) $words[3], $words[4], 'told', "{$words[1]} {$words[2]} {$words[3]}"),
            default => new TimePassed(),
        };
    }

    private static function said(Decision $decision): string
    {
        return match (true) {
            $decision instanceof Tell => "tell {$decision->kind->value} {$decision->round} to {$decision->person}"
                . ($decision->way === 'e-mail' ? '' : " by {$decision->way}"),
            $decision instanceof WithdrawOtherWays
                => "told by {$decision->way}: {$decision->kind->value} {$decision->round} to {$decision->person} by no other way",
            $decision instanceof Withdraw => 'withdraw',
            $decision instanceof Hasten => "hasten {$decision->severity->value}",
            $decision instanceof Line && in_array($decision->kind, [TrailKind::HeldBack, TrailKind::Failed], true)
                => "{$decision->kind->value}: {$decision->words}",
            $decision instanceof Line => "line: {$decision->words}",
            default => self::fail($decision::class),
        };
    }

    private static function sent(IncidentState $state, Decision $decision): IncidentState
    {
        return $decision instanceof Tell && $decision->kind === MessageKind::Raised ? $state->toldTo($decision->person) : $state;
    }

    /**
     * @param list<Decision> $decisions
     *
     * @return list<Tell>
     */
    private static function tells(array $decisions): array
    {
        return array_values(array_filter($decisions, static fn(Decision $one): bool => $one instanceof Tell));
    }

    private static function configuration(int $people, int $gatherSeconds = 10, int $secondRungSeconds = 900): Configuration
    {
        $ladder = Ladder::ofTheRota(Duration::ofSeconds($secondRungSeconds));

        return new Configuration(
            [new Path('everything else', null, null, ['service'], Gather::lasting(Duration::ofSeconds($gatherSeconds)), $ladder)],
            PlainRosters::turns($people === 0 ? [] : range(1, $people), '2026-01-02'),
            ways: ['e-mail', 'pier-hook'],
        );
    }

    /**
     * Ladders of one to four rungs, each with one to three listeners, some of them nobody, once or twice round, until acknowledged or
     * over; one path or two; with a rota or without; people with quiet hours and channels of their own, or without.
     */
    private static function anyConfiguration(Randomizer $random): Configuration
    {
        $plain = self::configuration($random->getInt(0, 3), $random->getInt(0, 60));
        $for = Parser::filterOf('severity in ("critical", "major")');
        $gather = $plain->paths[0]->gather;
        $reopens = $random->getInt(0, 1) === 0 ? null : Duration::ofMinutes($random->getInt(0, 30));
        $last = new Path('everything else', null, null, ['service'], $gather, self::anyLadder($random), $reopens);
        $first = new Path('grave', $for, null, [], $gather, self::anyLadder($random), $reopens);
        $quiet = new WeekHours([[[1, 2, 3, 4, 5, 6, 7], 60, 1_200]], new \DateTimeZone('UTC'));
        $wishes = [1 => new Wishes(['major' => ['pier-hook']]), 2 => new Wishes(quiet: $quiet), 9 => new Wishes(['minor' => ['pier-hook', 'e-mail']], $quiet)];
        $people = new People(['duty@a' => 9], ['lead' => [7, 9]], wishes: $random->getInt(0, 1) === 0 ? [] : $wishes);

        return new Configuration(
            $random->getInt(0, 1) === 0 ? [$last] : [$first, $last],
            $plain->rosters,
            $people,
            ways: $plain->ways,
            mutes: $random->getInt(0, 1) === 0 ? new Mutes() : self::anyMutes($random),
        );
    }

    /** One to three, each with spans of up to three hours, of everything or of a part. */
    private static function anyMutes(Randomizer $random): Mutes
    {
        $filters = [null, 'severity in ("minor", "warning")', 'service = "tickets"', 'service = "gates" and severity != "critical"'];
        $mutes = [];
        for ($id = 1, $many = $random->getInt(1, 3); $id <= $many; ++$id) {
            $filter = $filters[$random->getInt(0, 3)];
            $spans = [];
            $from = self::night();
            for ($i = $random->getInt(1, 4); $i > 0; --$i) {
                $from = $from->plus(Duration::ofSeconds($random->getInt(1, 7_200)));
                $to = $from->plus(Duration::ofSeconds($random->getInt(1, 10_800)));
                $spans[] = [$from, $to];
                $from = $to;
            }
            $mutes[] = new Mute($id, "mute {$id}", $filter === null ? null : Parser::filterOf($filter), $spans);
        }

        return new Mutes($mutes);
    }

    private static function anyLadder(Randomizer $random): Ladder
    {
        $listeners = [Who::onCall(), Who::nextOnRoster(), Who::person('duty@a'), Who::person('gone@a'), Who::role('lead'), Who::role('nobodys')];
        $any = static fn(): Who => $listeners[$random->getInt(0, 5)];
        $step = static fn(): LadderStep => new LadderStep(
            [$any(), ...array_map($any, array_fill(0, $random->getInt(0, 2), 0))],
            Duration::ofSeconds($random->getInt(10, 1_800)),
            [[], [], ['e-mail'], ['pier-hook', 'e-mail']][$random->getInt(0, 3)],
        );
        $steps = [$step(), ...array_map($step, array_fill(0, $random->getInt(0, 3), 0))];

        return new Ladder($steps, $random->getInt(1, 2), EndsWith::cases()[$random->getInt(0, 1)]);
    }

    private static function night(): Instant
    {
        return Instant::of(new \DateTimeImmutable(self::NIGHT));
    }
}

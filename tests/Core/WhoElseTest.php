<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Copy;
use Olivine\Core\Delivery\CopyTells;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\CourseReplay;
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
use Olivine\Core\Delivery\Event\AlertsCame;
use Olivine\Core\Delivery\Event\AlertsLeft;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Delivery\Event\Assigned;
use Olivine\Core\Delivery\Event\NotTaken;
use Olivine\Core\Delivery\Event\ResolvedByHand;
use Olivine\Core\Delivery\Event\SplitOff;
use Olivine\Core\Delivery\Event\Taken;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\HourlyMost;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\LadderStep;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\People;
use Olivine\Core\Delivery\StormRate;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Delivery\Wishes;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\DailyTimes;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WeekHours;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Several paths, copies, teams and wishes: who is told, by which channel, and who else. Ines (1) and Mei (2) are the team piers, Tomasz (3)
 * is the duty manager and quiet from 22:00 to 07:00, Sunniva (4) wants minor things by the hook. It is Friday, 03:00 in Lisbon.
 */
final class WhoElseTest extends TestCase
{
    private const NIGHT = '2026-11-27 03:00:00 UTC';

    /** @return iterable<string, array{list<array{int|float, string}>, list<string>}> minutes and what happens; who is told when */
    public static function courses(): iterable
    {
        yield 'a team, at once by two channels' => [
            [[0, 'raise a major gate skarn'], [1, 'time']],
            ['1 raised 1 to 1 by e-mail', '1 raised 1 to 1 by pier-hook', '1 raised 1 to 2 by e-mail', '1 raised 1 to 2 by pier-hook'],
        ];
        yield 'who owns the rule' => [[[0, 'raise a minor owned skarn piers'], [1, 'time']], ['1 raised 1 to 1 by e-mail', '1 raised 1 to 2 by e-mail']];
        yield 'owned by a person, by name' => [[[0, 'raise a minor owned skarn Tomasz Reis'], [1, 'time']], ['240 raised 1 to 3 by e-mail']];
        yield 'nobody owns it: the next rung at once' => [[[0, 'raise a minor owned skarn'], [1, 'time']], ['1 raised 2 to 4 by pier-hook']];
        yield 'quiet hours: at 07:00' => [[[0, 'raise a major duty skarn'], [1, 'time']], ['240 raised 1 to 3 by e-mail']];
        yield 'quiet hours, and critical: now' => [[[0, 'raise a critical duty skarn'], [1, 'time']], ['1 raised 1 to 3 by e-mail']];
        yield 'quiet hours, and critical by then: what waited is told by the other ladder, once' => [
            [[0, 'raise a major duty skarn'], [1, 'time'], [5, 'turn a critical'], [6, 'time']],
            ['240 raised 1 to 3 by e-mail', '5 withdrawn', '6 raised 101 to 3 by e-mail'],
        ];
        yield 'graver, and not so grave: it waits on' => [
            [[0, 'raise a minor duty skarn'], [1, 'time'], [5, 'turn a major']],
            ['240 raised 1 to 3 by e-mail', '5 hastened for major', '240 worse 3 to 3 by e-mail'],
        ];
        yield 'that it is over waits for quiet hours, too; not for who has it' => [
            [[0, 'raise a minor duty skarn'], [1, 'time'], [3, 'acknowledge 1'], [5, 'end a calm']],
            ['240 raised 1 to 3 by e-mail', '240 recovered 1 to 3 by e-mail', '5 recovered 1 to 1 by e-mail'],
        ];
        yield 'by what a person wishes' => [[[0, 'raise a minor wish skarn'], [1, 'time']], ['1 raised 1 to 4 by pier-hook']];
        yield 'and by the first channel where nothing is wished' => [[[0, 'raise a major wish skarn'], [1, 'time']], ['1 raised 1 to 4 by e-mail']];
        yield 'gathered until the morning round' => [
            [[0, 'raise a minor certificate skarn'], [100, 'time'], [200, 'raise b minor certificate skarn'], [361, 'time']],
            ['361 raised 1 to 1 by e-mail'],
        ];
        yield 'until it is over, whoever has it' => [
            [[0, 'raise a major stubborn skarn'], [1, 'time'], [2, 'acknowledge 1'], [20, 'time'], [25, 'end a calm']],
            ['1 raised 1 to 1 by e-mail', '20 raised 2 to 2 by e-mail', '25 recovered 1 to 1 by e-mail', '25 recovered 1 to 2 by e-mail'],
        ];
        yield 'graver: matched anew, and up the other ladder at once' => [
            [[0, 'raise a minor wish skarn'], [1, 'time'], [5, 'turn a critical'], [6, 'time']],
            ['1 raised 1 to 4 by pier-hook', '5 withdrawn', '5 worse 4 to 4 by e-mail', '6 raised 101 to 3 by e-mail'],
        ];
        yield 'who is told by the other ladder anyway is not told twice' => [
            [[0, 'raise a minor owned skarn Tomasz Reis'], [1, 'time'], [5, 'turn a critical'], [6, 'time']],
            ['240 raised 1 to 3 by e-mail', '5 withdrawn', '6 raised 101 to 3 by e-mail'],
        ];
        yield 'less grave: the path stays' => [
            [[0, 'raise a critical wish skarn'], [1, 'time'], [2, 'turn a minor'], [20, 'time']],
            ['1 raised 1 to 3 by e-mail'],
        ];
        yield 'a new site' => [
            [[0, 'raise a minor wish skarn'], [1, 'time'], [2, 'raise b minor wish greyhaven'], [3, 'raise c minor wish greyhaven']],
            ['1 raised 1 to 4 by pier-hook', '2 worse 103 to 4 by pier-hook'],
        ];
        yield 'ten times as many' => [
            [[0, 'raise a0 minor wish skarn'], [1, 'time'], ...array_map(static fn(int $i): array => [2, "raise a{$i} minor wish skarn"], range(1, 98))],
            ['1 raised 1 to 4 by pier-hook', '2 worse 10001 to 4 by pier-hook'],
        ];
        yield 'as many while it gathered: that is what was told' => [
            [...array_map(static fn(int $i): array => [0, "raise a{$i} minor wish skarn"], range(1, 60)), [1, 'time'], [2, 'raise b minor wish skarn']],
            ['1 raised 1 to 4 by pier-hook'],
        ];
        yield 'up again, where it gathers until the morning: told then' => [
            [
                [0, 'raise a minor certificate skarn'],
                [361, 'time'],
                [362, 'end a calm'],
                [365, 'raise a minor certificate skarn'],
                [366, 'time'],
                [840, 'time'],
            ],
            ['361 raised 1 to 1 by e-mail', '362 recovered 1 to 1 by e-mail', '840 raised 101 to 1 by e-mail'],
        ];
        yield 'over for three minutes, and up again' => [
            [[0, 'raise a minor wish skarn'], [1, 'time'], [2, 'end a calm'], [5, 'raise a minor wish skarn'], [6, 'time'], [9, 'end a calm']],
            [
                '1 raised 1 to 4 by pier-hook', '2 recovered 1 to 4 by pier-hook',
                '6 raised 101 to 4 by pier-hook', '9 recovered 2 to 4 by pier-hook',
            ],
        ];
        yield 'over for an hour: another one' => [
            [[0, 'raise a minor wish skarn'], [1, 'time'], [2, 'end a calm'], [62, 'raise a minor wish skarn'], [63, 'time']],
            ['1 raised 1 to 4 by pier-hook', '2 recovered 1 to 4 by pier-hook', '63 raised 1 to 4 by pier-hook'],
        ];
        yield 'ended by hand: another one' => [
            [[0, 'raise a minor wish skarn'], [1, 'time'], [2, 'resolve 4'], [3, 'raise a minor wish skarn'], [4, 'time']],
            ['1 raised 1 to 4 by pier-hook', '2 recovered 1 to 4 by pier-hook', '4 raised 1 to 4 by pier-hook'],
        ];
        yield 'given to somebody, who hears of it' => [
            [[0, 'raise a minor wish skarn'], [1, 'time'], [2, 'assign 1 by 4'], [30, 'time'], [31, 'end a calm']],
            ['1 raised 1 to 4 by pier-hook', '2 assigned 120 to 1 by e-mail', '31 recovered 1 to 4 by pier-hook', '31 recovered 1 to 1 by e-mail'],
        ];
        yield 'somebody takes it: no message' => [
            [[0, 'raise a minor wish skarn'], [1, 'time'], [2, 'assign 4 by 4'], [30, 'time']],
            ['1 raised 1 to 4 by pier-hook'],
        ];
        yield 'a copy informs a room once, after the gathering, and of the end' => [
            [[0, 'raise a critical pier skarn'], [0.1, 'raise b critical pier skarn'], [1, 'time'], [2, 'end a calm'], [3, 'end b calm']],
            [
                '0.17 copy opened 1 to 0 by room', '1 raised 1 to 3 by e-mail',
                '3 recovered 1 to 3 by e-mail', '3 copy resolved 1 to 0 by room',
            ],
        ];
        yield 'a copy for a person, at set times' => [
            [[0, 'raise a minor pier greyhaven'], [1, 'time'], [2, 'raise b major pier greyhaven']],
            ['840 copy opened 1 to 2 by e-mail', '1 raised 1 to 4 by pier-hook', '2 hastened for major', '2 worse 3 to 4 by e-mail'],
        ];
        yield 'a copy never goes another way' => [
            [[0, 'raise a critical pier skarn'], [1, 'time'], [2, 'fails copy opened 1 0 room'], [2, 'fails raised 1 3 e-mail']],
            ['0.17 copy opened 1 to 0 by room', '1 raised 1 to 3 by e-mail', '2 raised 1 to 3 by pier-hook'],
        ];
        yield 'one of two channels took it: the other one tells it too' => [
            [[0, 'raise a major gate skarn'], [1, 'time'], [2, 'takes raised 1 1 e-mail'], [2, 'takes raised 1 2 pier-hook']],
            [
                '1 raised 1 to 1 by e-mail', '1 raised 1 to 1 by pier-hook', '1 raised 1 to 2 by e-mail', '1 raised 1 to 2 by pier-hook',
                '2 by e-mail, kept e-mail, pier-hook', '2 by pier-hook, kept e-mail, pier-hook',
            ],
        ];
    }

    /**
     * @param list<array{int|float, string}> $events
     * @param list<string>                   $told
     */
    #[DataProvider('courses')]
    public function testWhoIsTold(array $events, array $told): void
    {
        $configuration = self::configuration();
        $course = new Course($configuration);
        $night = Instant::of(new \DateTimeImmutable(self::NIGHT));
        $state = null;
        $found = [];
        foreach ($events as [$minute, $what]) {
            $at = $night->plus(Duration::ofMs((int) ($minute * 60_000)));
            $event = self::event($what);
            $isAnother = $event instanceof AlertRaised && $state?->isOver() === true && !$course->goesOn($state, $event, $at);
            $progress = $course->step($isAnother ? null : $state, $event, $at);
            $state = $progress->state;
            foreach ($progress->decisions as $decision) {
                if ($decision instanceof Tell) {
                    $due = round($decision->dueAt->later($at)->since($night)->ms / 60_000, 2);
                    $found[] = "{$due} {$decision->kind->value} {$decision->round} to {$decision->person} by {$decision->way}";
                    $state = $decision->kind === MessageKind::Raised ? $state->toldTo($decision->person) : $state;
                }
                if ($decision instanceof Withdraw && !$state->isOver()) {
                    $found[] = "{$minute} withdrawn";
                }
                if ($decision instanceof Hasten) {
                    $found[] = "{$minute} hastened for {$decision->severity->value}";
                }
                if ($decision instanceof WithdrawOtherWays) {
                    $found[] = "{$minute} by {$decision->way}, kept " . implode(', ', $decision->keep);
                }
            }
        }
        self::assertSame($told, $found);
    }

    /** @return iterable<string, array{MessageKind, int, Severity, bool}> kind, round, severity; whether it is withheld as the 21st of an hour */
    public static function messages(): iterable
    {
        yield 'a rung of a critical one' => [MessageKind::Raised, 1, Severity::Critical, false];
        yield 'a rung of a major one' => [MessageKind::Raised, 201, Severity::Major, false];
        yield 'a rung of a minor one' => [MessageKind::Raised, 1, Severity::Minor, true];
        yield 'graver: critical by now' => [MessageKind::Worse, 4, Severity::Critical, false];
        yield 'a critical one that spreads' => [MessageKind::Worse, 103, Severity::Critical, true];
        yield 'a major one that grows' => [MessageKind::Worse, 10_001, Severity::Major, true];
        yield 'the end of a major one' => [MessageKind::Recovered, 1, Severity::Major, false];
        yield 'the end of a warning' => [MessageKind::Recovered, 1, Severity::Warning, true];
        yield 'a copy, however grave' => [MessageKind::CopyOpened, 1, Severity::Critical, true];
        yield 'given to somebody, however small' => [MessageKind::Assigned, 9, Severity::Warning, false];
    }

    #[DataProvider('messages')]
    public function testWhatCanWaitIsWithheldWhereThereWereTooMany(MessageKind $kind, int $round, Severity $severity, bool $isWithheld): void
    {
        $most = new HourlyMost(20);
        self::assertSame([false, $isWithheld], [$most->withholds($kind, $round, $severity, 19), $most->withholds($kind, $round, $severity, 20)]);
        self::assertFalse((new HourlyMost(0))->withholds($kind, $round, $severity, 1_000), 'as many as there are');
    }

    /** @return iterable<string, array{MessageKind, list<int>, int|null}> kind, how many seconds ago messages were sent; how long one more waits */
    public static function minutes(): iterable
    {
        yield 'a rung of the night' => [MessageKind::Raised, [], null];
        yield 'the third within a minute' => [MessageKind::Raised, [1, 59], null];
        yield 'the fourth: with all that comes, half a minute after the third' => [MessageKind::Raised, [2, 3, 40], 28];
        yield 'its end, as much' => [MessageKind::Recovered, [0, 0, 0, 0], 30];
        yield 'a copy' => [MessageKind::CopyOpened, [29, 30, 31], 1];
        yield 'what somebody was given by hand never waits' => [MessageKind::Assigned, [0, 1, 2, 3], null];
    }

    /** @param list<int> $ago */
    #[DataProvider('minutes')]
    public function testAStormIsSummedUpHoweverGraveItIs(MessageKind $kind, array $ago, ?int $waits): void
    {
        $now = Instant::ofMs(1_800_000_000_000);
        $sent = array_map(static fn(int $seconds): Instant => $now->minus(Duration::ofSeconds($seconds)), $ago);
        $until = (new StormRate(3))->until($kind, $sent);
        self::assertSame($waits, $until === null ? null : intdiv($until->since($now)->ms, 1_000));
        self::assertNull((new StormRate(0))->until($kind, $sent), 'as many as there are');
    }

    /** @return iterable<string, array{list<array{int|float, string}>, list<string>}> minutes and what happens; who was told when, the morning after */
    public static function nights(): iterable
    {
        yield 'quiet hours, and over before they end: never told' => [[[0, 'raise a minor duty skarn'], [60, 'end a calm']], []];
        yield 'quiet hours, and still so in the morning' => [[[0, 'raise a minor duty skarn']], ['240 raised 1 to 3']];
        yield 'critical by the same path: at once, not in the morning again' => [
            [[0, 'raise a major gravest skarn'], [30, 'turn a critical']],
            ['30 raised 1 to 3'],
        ];
        yield 'critical by another path' => [[[0, 'raise a major duty skarn'], [30, 'turn a critical']], ['30 raised 101 to 3']];
        yield 'over, told in the morning, and up again before: not told of its end' => [
            [[0, 'raise a minor wish skarn'], [2, 'end a calm'], [5, 'raise a minor wish skarn'], [400, 'end a calm']],
            ['0 raised 1 to 4', '2 recovered 1 to 4', '5 raised 101 to 4', '400 recovered 2 to 4'],
        ];
        yield 'a copy of what is over before it was gathered: none' => [[[0, 'raise a critical pier skarn'], [0.1, 'end a calm']], []];
    }

    /**
     * A replay tells what would have left, when it would have.
     *
     * @param list<array{int|float, string}> $events
     * @param list<string>                   $told
     */
    #[DataProvider('nights')]
    public function testAReplayTellsWhatWouldHaveLeft(array $events, array $told): void
    {
        $night = Instant::of(new \DateTimeImmutable(self::NIGHT));
        $replay = new CourseReplay(self::configuration());
        foreach ($events as [$minute, $what]) {
            $event = self::event($what);
            self::assertTrue($event instanceof AlertRaised || $event instanceof AlertTurned || $event instanceof AlertEnded);
            $replay->happens($event, $night->plus(Duration::ofMs((int) ($minute * 60_000))));
        }
        $replay->passTo($night->plus(Duration::ofHours(14)));
        $found = [];
        foreach ($replay->courses() as $course) {
            foreach ($course->decisions as [$at, $decision]) {
                if ($decision instanceof Tell) {
                    self::assertFalse($decision->dueAt->isAfter($at), 'nothing leaves before it is due');
                    $minute = intdiv($at->since($night)->ms, 60_000);
                    $found[] = "{$minute} {$decision->kind->value} {$decision->round} to {$decision->person}";
                }
            }
        }
        self::assertSame($told, $found);
    }

    /** Whatever is played, by whatever path: nobody is told but who agreed, no copy leaves, and no rung waits for more than a minute. */
    public function testARehearsalTellsOnlyWhoAgreed(): void
    {
        $night = Instant::of(new \DateTimeImmutable(self::NIGHT));
        $told = [];
        foreach (['gate', 'gravest', 'owned', 'duty', 'certificate', 'stubborn', 'skarn'] as $service) {
            foreach (['critical', 'minor'] as $severity) {
                foreach ([[1], [2, 3], [4], [1, 2, 3, 4]] as $agreed) {
                    $replay = new CourseReplay(self::configuration()->rehearsing($agreed));
                    $raise = self::event("raise a {$severity} {$service} skarn");
                    self::assertInstanceOf(AlertRaised::class, $raise);
                    $replay->happens($raise, $night);
                    $replay->passTo($night->plus(Duration::ofMinutes(10)));
                    foreach ($replay->courses()[0]->decisions as [$at, $decision]) {
                        if ($decision instanceof Tell) {
                            self::assertContains($decision->person, $agreed);
                            self::assertFalse($decision->kind->isCopy());
                            $told["{$decision->person} {$decision->round}"] = intdiv($at->since($night)->ms, 1_000);
                        }
                    }
                }
            }
        }
        self::assertEqualsCanonicalizing([0, 60], array_unique($told), 'the first at once, the second a minute after');
    }

    /** What belongs together is known by people: alerts laid into another incident, and taken apart again. */
    public function testOneOfTwoAndTwoOfOne(): void
    {
        $course = new Course(self::configuration());
        $night = Instant::of(new \DateTimeImmutable(self::NIGHT));
        $first = $course->step(null, self::event('raise a minor wish skarn'), $night)->state->toldTo(4);
        $second = $course->step(null, self::event('raise b critical duty skarn'), $night)->state->toldTo(3);
        $came = $course->step($first, new AlertsCame($second->alerts, $second->told, $second->severity, $second->title, 'merged'), $night);
        self::assertSame(['b', 'a'], array_keys($came->state->alerts));
        self::assertSame([[4, 3], 'b is wrong', 'grave'], [$came->state->told, $came->state->title, $came->state->path], 'graver, so matched anew');
        $tells = array_filter($came->decisions, static fn(object $one): bool => $one instanceof Tell);
        self::assertSame([4], array_values(array_map(static fn(Tell $tell): int => $tell->person, $tells)), 'who is on the first rung hears by it');
        $left = $course->step($second, new AlertsLeft(['b'], 'merged away'), $night)->state;
        self::assertTrue($left->isOver());

        $apart = $course->step(null, new SplitOff($came->state, 7, ['b'], 'b is wrong', 'Ines'), $night);
        self::assertSame(['duty, apart from 7', ['b'], [4, 3]], [$apart->state->group, array_keys($apart->state->alerts), $apart->state->told]);
        self::assertEquals($night, $course->nextAt($apart->state), 'its ladder begins at once');
        $stays = $course->step($came->state, new AlertsLeft(['b'], 'split'), $night)->state;
        self::assertSame([['a'], false], [array_keys($stays->alerts), $stays->isOver()]);
        $ends = $course->step($stays, self::event('end a calm'), $night->plus(Duration::ofMinutes(3)));
        self::assertTrue($ends->state->isOver());
    }

    public function testTheTrailSaysWhichRowOfWhichRevision(): void
    {
        $course = new Course(self::configuration());
        $night = Instant::of(new \DateTimeImmutable(self::NIGHT));
        $opened = $course->step(null, self::event('raise a minor wish skarn'), $night);
        $graver = $course->step($opened->state, self::event('turn a critical'), $night);
        $said = array_map(static fn(object $one): string => $one instanceof Line ? $one->words : '', [...$opened->decisions, ...$graver->decisions]);
        self::assertContains('gathers alerts of wish for 10 s before anyone is told; everything else answers (row 8 of revision 12)', $said);
        $words = 'matched anew, as it is graver: grave answers (row 3 of revision 12) from now on, no longer everything else';
        self::assertContains($words, $said);
    }

    private static function event(string $what): Event
    {
        $words = explode(' ', $what);
        $kind = static fn(int $from): MessageKind => MessageKind::from(implode(' ', array_slice($words, 1, $from)));

        return match ($words[0]) {
            'raise' => new AlertRaised($words[1], self::about($words), Severity::from($words[2]), "{$words[1]} is wrong", 'raised'),
            'turn' => new AlertTurned($words[1], Severity::from($words[2]), "{$words[1]} is worse", 'turned'),
            'end' => new AlertEnded($words[1], Phase::from($words[2]), 'ended'),
            'acknowledge' => new Acknowledged((int) $words[1], 'Somebody'),
            'assign' => new Assigned((int) $words[1], 'Somebody', (int) $words[3], 'Somebody else'),
            'resolve' => new ResolvedByHand((int) $words[1], 'Somebody'),
            'fails' => count($words) === 6
                ? new NotTaken($kind(2), (int) $words[3], (int) $words[4], $words[5], 'away')
                : new NotTaken($kind(1), (int) $words[2], (int) $words[3], $words[4], 'away'),
            'takes' => new Taken($kind(1), (int) $words[2], (int) $words[3], $words[4], 'told', 'once'),
            default => new TimePassed(),
        };
    }

    /** @param list<string> $words key, severity, service, site, owner */
    private static function about(array $words): LabelSet
    {
        $owner = implode(' ', array_slice($words, 5));

        return LabelSet::of(array_filter(['service' => $words[3], 'site' => $words[4], 'severity' => $words[2], 'owner' => $owner]));
    }

    private static function configuration(): Configuration
    {
        $lisbon = new \DateTimeZone('Europe/Lisbon');
        $minutes = Duration::ofMinutes(...);
        $gather = Gather::lasting(Duration::ofSeconds(10));
        $path = static fn(string $name, ?string $for, LadderStep|Ladder $first, LadderStep ...$more): Path => new Path(
            $name,
            $for === null ? null : Parser::filterOf($for),
            null,
            ['service'],
            $name === 'certificates' ? Gather::until(new DailyTimes([1_020, 540], $lisbon)) : $gather,
            $first instanceof Ladder ? $first : new Ladder([$first, ...array_values($more)]),
            $minutes(10),
        );
        $step = static fn(Who $who, string ...$by): LadderStep => new LadderStep([$who], $minutes(15), array_values($by));

        return new Configuration(
            [
                $path('gates', 'service = "gate"', $step(Who::team('piers'), 'e-mail', 'pier-hook')),
                $path('gravest', 'service = "gravest"', $step(Who::person('tomasz@a'))),
                $path('grave', 'severity = "critical"', $step(Who::person('tomasz@a'))),
                $path('owned', 'service = "owned"', $step(Who::owner()), $step(Who::person('sunniva@a'))),
                $path('duty', 'service = "duty"', $step(Who::person('tomasz@a'))),
                $path('certificates', 'service = "certificate"', $step(Who::person('ines@a'))),
                $path('stubborn', 'service = "stubborn"', new Ladder([$step(Who::person('ines@a')), $step(Who::person('mei@a'))], 1, EndsWith::Resolved)),
                $path('everything else', null, $step(Who::person('sunniva@a'))),
            ],
            people: new People(
                ['ines@a' => 1, 'mei@a' => 2, 'tomasz@a' => 3, 'sunniva@a' => 4],
                byTeam: ['piers' => [1, 2]],
                byName: ['Tomasz Reis' => 3],
                wishes: [
                    3 => new Wishes(quiet: new WeekHours([[[1, 2, 3, 4, 5, 6, 7], 1_320, 420]], $lisbon)),
                    4 => new Wishes(['minor' => ['pier-hook']]),
                ],
            ),
            ways: ['e-mail', 'pier-hook'],
            others: ['room'],
            copies: [
                new Copy('pier room', Parser::filterOf('service = "pier" and site = "skarn"'), null, [], ['room'], [CopyTells::Opened, CopyTells::Resolved]),
                new Copy(
                    'manager',
                    Parser::filterOf('site = "greyhaven" and service = "pier"'),
                    null,
                    [Who::person('mei@a')],
                    [],
                    [CopyTells::Opened],
                    new DailyTimes([1_020], $lisbon),
                ),
            ],
            revision: 12,
        );
    }
}

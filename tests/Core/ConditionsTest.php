<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Foresight;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Absence;
use Olivine\Core\Rule\Condition\Change;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Counting;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Memory;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Together;
use Olivine\Core\Rule\Track;
use Olivine\Core\Rule\Way;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What each condition says of its values; the expected results were worked out by hand. */
final class ConditionsTest extends TestCase
{
    /** @return iterable<string, array{Condition, list<float|null>, string}> the values of its inputs, and what it says */
    public static function verdicts(): iterable
    {
        $share = static fn(Way $way): Change => new Change($way, self::above(0.2, 0.1, 1.0), Duration::ofHours(1), true);
        yield 'a quarter more than an hour ago' => [$share(Way::Rises), [1_250.0, 1_000.0], 'past major, change 0.25, then 1000'];
        yield 'a fifth more is the limit itself' => [$share(Way::Rises), [1_200.0, 1_000.0], 'between, change 0.2, then 1000'];
        yield 'a tenth more is back' => [$share(Way::Rises), [1_100.0, 1_000.0], 'back, change 0.1, then 1000'];
        yield 'more than twice as much is graver' => [$share(Way::Rises), [2_100.0, 1_000.0], 'past critical, change 1.1, then 1000'];
        yield 'half of it has not risen' => [$share(Way::Rises), [500.0, 1_000.0], 'back, change -0.5, then 1000'];
        yield 'half of it has fallen' => [$share(Way::Falls), [500.0, 1_000.0], 'past major, change 0.5, then 1000'];
        yield 'half of it has moved' => [$share(Way::Moves), [500.0, 1_000.0], 'past major, change 0.5, then 1000'];
        yield 'a share of what was below nothing' => [$share(Way::Rises), [-50.0, -100.0], 'past major, change 0.5, then -100'];
        yield 'something where nothing was' => [$share(Way::Rises), [0.1, 0.0], 'past critical, change INF, then 0'];
        yield 'nothing where nothing was' => [$share(Way::Moves), [0.0, 0.0], 'back, change 0, then 0'];
        yield 'nobody knows what was' => [$share(Way::Moves), [5.0, null], 'between'];
        yield 'nobody knows what is' => [$share(Way::Moves), [null, 5.0], 'unknown'];
        $amount = new Change(Way::Falls, self::above(20, 5), Duration::ofDays(7), false);
        yield 'so much less than a week ago' => [$amount, [70.0, 100.0], 'past major, change 30, then 100'];

        $usual = static fn(Way $way, float $least = 20): Departure => new Departure(
            Baseline::ofPast(BaselineMethod::Median, Duration::ofDays(14), Duration::ofDays(1)),
            $way,
            self::above(5, 3, 20),
            $least,
        );
        yield 'seven and a half spreads above' => [$usual(Way::Rises), [130.0, 100.0, 4.0], 'past major, apart 7.5, spread 4, usual 100'];
        yield 'far above, and that is not looked at' => [$usual(Way::Falls), [130.0, 100.0, 4.0], 'back, apart -7.5, spread 4, usual 100'];
        yield 'far below' => [$usual(Way::Falls), [70.0, 100.0, 4.0], 'past major, apart 7.5, spread 4, usual 100'];
        yield 'far either way' => [$usual(Way::Moves), [0.0, 100.0, 4.0], 'past critical, apart 25, spread 4, usual 100'];
        yield 'unlikely, and too little to matter' => [$usual(Way::Moves), [119.0, 100.0, 1.0], 'back, apart 0, spread 1, usual 100'];
        yield 'the least change itself matters' => [$usual(Way::Moves), [120.0, 100.0, 1.0], 'past major, apart 20, spread 1, usual 100'];
        yield 'neither past nor back' => [$usual(Way::Moves), [120.0, 100.0, 5.0], 'between, apart 4, spread 5, usual 100'];
        yield 'always the same until now' => [$usual(Way::Moves, 0), [101.0, 100.0, 0.0], 'past critical, apart INF, spread 0, usual 100'];
        yield 'always the same, still' => [$usual(Way::Moves, 0), [100.0, 100.0, 0.0], 'back, apart 0, spread 0, usual 100'];
        yield 'nothing is usual yet' => [$usual(Way::Moves), [130.0, null, null], 'between'];
        yield 'no reading' => [$usual(Way::Moves), [null, 100.0, 4.0], 'unknown'];

        $full = new Forecast(self::above(0.95, 0.9), Duration::ofHours(24));
        yield 'it will be full' => [$full, [0.7, 0.97, 0.02], 'past major, error 0.02, foreseen 0.97'];
        yield 'it will be full, give or take too much' => [$full, [0.7, 0.97, 0.3], 'between, error 0.3, foreseen 0.97'];
        yield 'it will not be full' => [$full, [0.7, 0.8, 0.02], 'back, error 0.02, foreseen 0.8'];
        yield 'it is full already, whatever is foreseen' => [$full, [0.96, 0.5, 0.5], 'past major, error 0.5, foreseen 0.5'];
        yield 'it is full already, and nothing is foreseen' => [$full, [0.96, null, null], 'past major'];
        yield 'nothing can be foreseen' => [$full, [0.7, null, null], 'back'];
        $empty = new Forecast(new Limits(Side::Below, [new Level(Severity::Major, 10)], 20), Duration::ofHours(1));
        yield 'it will run out' => [$empty, [30.0, 5.0, 1.0], 'past major, error 1, foreseen 5'];

        yield 'not seen' => [new Absence(Severity::Minor), [null], 'past minor'];
        yield 'no number is not seen' => [new Absence(Severity::Minor), [NAN], 'past minor'];
        yield 'seen' => [new Absence(Severity::Minor), [0.0], 'back'];
    }

    /** @param list<float|null> $values */
    #[DataProvider('verdicts')]
    public function testSaysHowItFindsItsValues(Condition $condition, array $values, string $expected): void
    {
        \assert($values !== []);
        $verdict = $condition->judge(Memory::none(), Instant::ofMs(0), $values);
        $numbers = $verdict->numbers;
        ksort($numbers);
        $words = [strtolower($verdict->standing->name) . ($verdict->isPast() ? ' ' . ($verdict->severity->value ?? '') : '')];
        foreach ($numbers as $name => $number) {
            $words[] = $name . ' ' . (is_finite($number) ? (string) round($number, 9) : 'INF');
        }
        self::assertSame($expected, implode(', ', $words));
        // An alert that is calm may be passed over exactly where nothing is past and nothing unknown.
        $columns = array_map(static fn(?float $one): array => [$one], $values);
        $isCalm = !$verdict->isPast() && $expected !== 'unknown';
        $passed = $condition->calmUntil(new Track($columns), 0) === 1;
        self::assertTrue(!$passed || $isCalm, 'nothing that needs a look is passed over');
    }

    public function testCountsTheLastLooks(): void
    {
        $condition = new Threshold(self::above(400, 300, 1_200), new Counting(3, 5));
        $memory = Memory::none();
        $said = [];
        foreach ([410.0, 380.0, 420.0, 390.0, 430.0, 1_300.0, 1_300.0, 100.0, 1_300.0, 100.0, 100.0, 100.0] as $value) {
            $verdict = $condition->judge($memory, Instant::ofMs(0), [$value]);
            $memory = $verdict->memory;
            $said[] = $verdict->isPast() ? $verdict->severity->value ?? '' : strtolower($verdict->standing->name);
        }
        self::assertSame(
            ['between', 'between', 'between', 'between', 'major', 'major', 'major', 'major', 'critical', 'critical', 'back', 'back'],
            $said,
        );
    }

    public function testOneOfFourTwinsRunsHot(): void
    {
        $readings = new Readings();
        foreach (['a' => 50.0, 'b' => 52.0, 'c' => 48.0, 'd' => 51.0, 'hot' => 80.0] as $host => $busy) {
            $readings->with('busy', ['service' => 'tickets', 'host' => $host], array_fill_keys(range(0, 600, 15), $busy));
        }
        $readings->with('busy', ['service' => 'alone', 'host' => 'x'], array_fill_keys(range(0, 600, 15), 99.0));
        $twins = new Departure(Baseline::ofTwins(['service']), Way::Moves, self::above(4, 3), 15);
        $outcome = self::outcome($readings, 'busy', $twins, 600);
        self::assertSame(['0 hot raised'], self::words($outcome, 'host'), 'one that has no twins is no different from them');
        // Of 50, 52, 48 and 51 the median is 50.5, the distances are 0.5, 1.5, 2.5 and 0.5, so their MAD is 1.
        self::assertEqualsWithDelta(29.5 / 1.4826, $outcome->transitions[0]->transition->numbers['apart'], 1e-9);
        self::assertSame(50.5, $outcome->transitions[0]->transition->numbers['usual']);
    }

    /** Nine gates, three a site: one alert a site, where a third or more of its gates are full. */
    public function testOneAlertForAWholeGroup(): void
    {
        $readings = new Readings();
        foreach (['ellery' => [0, 0, 0], 'skarn' => [0, 500, 500], 'haven' => [0, 0, 500]] as $site => $gates) {
            foreach ($gates as $i => $fromThen) {
                $values = [];
                foreach (range(0, 1_200, 15) as $second) {
                    $values[$second] = $second < 300 ? 0.0 : (float) $fromThen;
                }
                $readings->with('depth', ['site' => $site, 'gate' => "gate-{$i}"], $values);
            }
        }
        $threshold = PlainRules::threshold(Side::Above, 400, 300);
        $found = static function (Together $together) use ($readings, $threshold): array {
            $outcome = self::outcome($readings, 'depth', $threshold, 1_200, $together);

            return array_map(
                static fn(AlertTransition $one): string => implode(' ', [
                    intdiv($one->transition->at->ms, 1_000),
                    $one->labels->get('site'),
                    $one->transition->to->value,
                    $one->transition->value,
                    $one->transition->why,
                ]),
                $outcome->transitions,
            );
        };
        self::assertSame(['300 skarn raised 2 gate-1, gate-2', '300 haven raised 1 gate-2'], $found(new Together(['site'])));
        self::assertSame(['300 skarn raised 2 gate-1, gate-2'], $found(new Together(['site'], share: 0.5)));
        self::assertSame(['300  raised 3 gate-1 skarn, gate-2 haven, gate-2 skarn'], $found(new Together([], 3)));
        self::assertSame([], $found(new Together([], 4)));
        self::assertSame([1, 3, 2, 9], [
            (new Together([]))->needed(9),
            (new Together([], share: 1 / 3))->needed(9),
            (new Together([], share: 1 / 3))->needed(4),
            (new Together([], share: 1.0))->needed(9),
        ]);
    }

    /** What falls silent is missed after the hold, also when it did before the rule was written, and is lost in the end. */
    public function testWhatFellSilentIsMissed(): void
    {
        $readings = (new Readings(45_000))
            ->with('depth', ['gate' => 'gone'], array_fill_keys(range(0, 3_000, 15), 1.0))
            ->with('depth', ['gate' => 'there'], array_fill_keys(range(0, 400_000, 15), 1.0));
        $outcome = self::outcome($readings, 'depth', new Absence(Severity::Major), 400_000, holdSeconds: 600);
        // The last reading speaks for three intervals, so it is missed from 3,045 s on; after 3 d of that it is lost.
        self::assertSame(
            ['3060 gone building', '3660 gone raised', '262260 gone lost'],
            self::words($outcome, 'gate'),
        );
    }

    /** While its broker is down a queue is held, said and counted as such; it speaks where it outlasts that. */
    public function testWhatAnotherRuleExplainsIsHeldUntilItOutlastsIt(): void
    {
        $readings = (new Readings())->withAlert('Broker down', ['broker' => 'north'], [0 => 0.0, 120 => 1.0, 600 => 0.0]);
        foreach (['north', 'south'] as $broker) {
            foreach (['stays' => 3_000, 'goes' => 400] as $queue => $until) {
                $values = [];
                foreach (range(0, 1_200, 15) as $second) {
                    $values[$second] = $second >= 180 && $second < $until ? 500.0 : 100.0;
                }
                $readings->with('depth', ['broker' => $broker, 'queue' => $queue], $values);
            }
        }
        $rule = PlainRules::rule('depth', PlainRules::threshold(Side::Above, 400, 300), PlainRules::holding(60_000, 0, 300_000), 15_000);
        $rule = new Rule($rule->watched, $rule->condition, $rule->holding, $rule->step, null, ['Broker down']);
        $outcome = (new RuleEngine(new AllThatIsThere(new Evaluator($readings))))->run($rule, [], Instant::ofMs(-15_000), Instant::ofMs(1_200_000));
        $words = array_map(
            static fn(AlertTransition $one): string => trim(implode(' ', [
                intdiv($one->transition->at->ms, 1_000),
                $one->labels->get('broker'),
                $one->labels->get('queue'),
                $one->transition->to->value,
                $one->transition->why,
            ])),
            $outcome->transitions,
        );
        sort($words, SORT_NATURAL);
        self::assertSame(
            [
                '180 north goes building',
                '180 north stays building',
                '180 south goes building',
                '180 south stays building',
                '240 north goes held held while Broker down is raised',
                '240 north stays held held while Broker down is raised',
                '240 south goes raised',
                '240 south stays raised',
                '405 north goes calm',
                '405 south goes calm',
                '600 north stays raised',
            ],
            $words,
        );
    }

    public function testARuleIsMadeOfTheAlertsOfOthers(): void
    {
        $readings = (new Readings())
            ->withAlert('Queue', ['broker' => 'north', 'queue' => 'boarding'], [60 => 1.0, 300 => 0.0])
            ->withAlert('Queue', ['broker' => 'south', 'queue' => 'boarding'], [60 => 1.0])
            ->withAlert('Broker down', ['broker' => 'north'], [120 => 1.0, 180 => 0.0]);
        $formula = 'raised("Queue") and not raised("Broker down") on broker';
        $outcome = self::outcome($readings, $formula, PlainRules::threshold(Side::Above, 0, 0), 600);
        self::assertSame(
            ['60 north raised', '120 north calm', '180 north raised', '300 north calm'],
            self::words($outcome, 'broker'),
            'what has no pair is not told',
        );
        $outcome = self::outcome($readings, 'raised("Queue")', PlainRules::threshold(Side::Above, 0, 0), 600);
        self::assertSame(['60 north raised', '60 south raised', '300 north calm'], self::words($outcome, 'broker'));
    }

    public function testForeseesAStraightLineExactly(): void
    {
        $hours = range(0, 47);
        $times = array_map(static fn(int $hour): int => $hour * 3_600_000, $hours);
        $values = array_map(static fn(int $hour): float => 70.0 + $hour, $hours);
        $ahead = (new Foresight(new \DateTimeZone('UTC')))->ahead($times, $values, end($times), 24 * 3_600_000);
        self::assertNotNull($ahead);
        self::assertEqualsWithDelta([141.0, 117.0, 0.0], $ahead, 1e-6);
    }

    /** A line through a daily curve would foretell what does not come; the shape of the day does not. */
    public function testForeseesTheShapeOfTheDay(): void
    {
        $times = $values = [];
        for ($half = 0; $half < 6 * 48; $half += 3) {
            $times[] = $half * 1_800_000;
            $values[] = 500.0 + 300.0 * sin((2 * M_PI * $half) / 48);
        }
        $foresight = new Foresight(new \DateTimeZone('UTC'));
        $morning = 5 * 48 + 9;
        $upTo = (int) array_search($morning * 1_800_000, $times, true);
        $ahead = $foresight->ahead(array_slice($times, 0, $upTo + 1), array_slice($values, 0, $upTo + 1), $times[$upTo], 12 * 3_600_000);
        self::assertNotNull($ahead);
        // From half past four to half past sixteen it rises to its top, and falls to 500 + 300 × sin(2π × 16.5 / 24).
        self::assertEqualsWithDelta([800.0, 222.836], [$ahead[0], $ahead[1]], 0.01);
        self::assertLessThan(1.0, $ahead[2]);
    }

    public function testForeseesNothingFromNothing(): void
    {
        $foresight = new Foresight(new \DateTimeZone('UTC'));
        self::assertNull($foresight->ahead([], [], 0, 3_600_000));
        self::assertNull($foresight->ahead(range(0, 10_000, 1_000), array_fill(0, 11, 5.0), 10_000, 1_000));
        self::assertNull($foresight->ahead(range(0, 11_000, 1_000), array_fill(0, 12, 5.0), 11_000, 86_400_000), 'a day from eleven seconds');
        mt_srand(4);
        $noise = array_map(static fn(): float => (float) mt_rand(0, 1_000), range(1, 60));
        $ahead = $foresight->ahead(range(0, 59 * 60_000, 60_000), $noise, 59 * 60_000, 3_600_000);
        self::assertNotNull($ahead);
        self::assertGreaterThan(150.0, $ahead[2], 'it says that it is no use');
    }

    /** @return iterable<string, array{\Closure(): object, string}> */
    public static function impossible(): iterable
    {
        $below = static fn(): Limits => new Limits(Side::Below, [new Level(Severity::Major, 1)], 2);
        $range = static fn(): Limits => new Limits(Side::Outside, [new Level(Severity::Major, 1, 2)], 1, 2);
        $hour = Duration::ofHours(1);
        yield 'a change below a limit' => [static fn(): object => new Change(Way::Rises, $below(), $hour, false), 'limits'];
        yield 'a change against now' => [static fn(): object => new Change(Way::Rises, self::above(1, 0), Duration::none(), false), 'agoSeconds'];
        yield 'a distance below a limit' => [static fn(): object => new Departure(Baseline::ofTwins([]), Way::Moves, $below()), 'limits'];
        yield 'a least change of less than nothing' => [
            static fn(): object => new Departure(Baseline::ofTwins([]), Way::Moves, self::above(4, 3), -1.0),
            'least',
        ];
        yield 'same hours of two days' => [
            static fn(): object => Baseline::ofPast(BaselineMethod::SameHour, Duration::ofDays(2), Duration::ofDays(1)),
            'spanSeconds',
        ];
        yield 'same weekdays of two weeks' => [
            static fn(): object => Baseline::ofPast(BaselineMethod::SameWeekday, Duration::ofDays(14), Duration::ofDays(1)),
            'spanSeconds',
        ];
        yield 'warm after more than there is' => [
            static fn(): object => Baseline::ofPast(BaselineMethod::Median, $hour, Duration::ofDays(1)),
            'warmUpSeconds',
        ];
        yield 'a forecast out of a range' => [static fn(): object => new Forecast($range(), $hour), 'side'];
        yield 'a forecast of a year' => [static fn(): object => new Forecast(self::above(1, 0), Duration::ofDays(365)), 'withinSeconds'];
        yield 'none of a group' => [static fn(): object => new Together([], 0), 'least'];
        yield 'more than all of a group' => [static fn(): object => new Together([], share: 1.01), 'share'];
    }

    /** @param \Closure(): object $make */
    #[DataProvider('impossible')]
    public function testWhatCannotBeNamesItsField(\Closure $make, string $field): void
    {
        try {
            $make();
            self::fail('It was accepted');
        } catch (BadRule $error) {
            self::assertSame($field, $error->field);
        }
    }

    private static function above(float $limit, float $clear, ?float $critical = null): Limits
    {
        $levels = [new Level(Severity::Major, $limit)];
        if ($critical !== null) {
            $levels[] = new Level(Severity::Critical, $critical);
        }

        return new Limits(Side::Above, $levels, $clear);
    }

    private static function outcome(
        Readings $readings,
        string $formula,
        Condition $condition,
        int $seconds,
        ?Together $together = null,
        int $holdSeconds = 0,
    ): Outcome {
        $holding = new Holding(Duration::ofSeconds($holdSeconds), Duration::none());
        $watched = PlainRules::rule($formula, $condition, $holding, 15_000)->watched;
        $rule = new Rule($watched, $condition, $holding, Duration::ofSeconds(15), $together);

        return (new RuleEngine(new AllThatIsThere(new Evaluator($readings))))->run(
            $rule,
            [],
            Instant::ofMs(-15_000),
            Instant::ofMs($seconds * 1_000),
        );
    }

    /** @return list<string> */
    private static function words(Outcome $outcome, string $label): array
    {
        return array_map(
            static fn(AlertTransition $one): string => sprintf(
                '%d %s %s',
                intdiv($one->transition->at->ms, 1_000),
                $one->labels->get($label),
                $one->transition->to->value,
            ),
            $outcome->transitions,
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Latecomers;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\PastsAtHand;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\AsItWas;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition\Absence;
use Olivine\Core\Rule\Condition\Change;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Counting;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Way;
use Olivine\Core\Series\Punctuality;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

/**
 * A target whose readings carry times of their own and arrive by chance late, most of them within half a minute, some much
 * later: rules that look while they arrive, and a replay afterwards, must say the same.
 *
 * @phpstan-type Reading array{gate: string, atMs: int, arrivesMs: int, value: float, seenFromMs: int}
 */
final class LateReadingsTest extends TestCase
{
    private const STEP_MS = 15_000;
    private const END_MS = 7_200_000;

    public function testLiveAndReplayAreTheSameHoweverLateReadingsCome(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 3));
        $late = 0;
        $differ = 0;
        for ($round = 0; $round < 9; ++$round) {
            $readings = self::arrived($round);
            $late += count(array_filter($readings, static fn(array $one): bool => $one['seenFromMs'] > $one['atMs']));
            foreach (self::rules() as $name => $rule) {
                $live = $this->live($rule, $readings);
                $asItWas = self::words(
                    self::asItWas($readings)->run(
                        $rule,
                        [],
                        Instant::ofMs(0),
                        Instant::ofMs(self::END_MS),
                    )->transitions,
                );
                self::assertSame($live, $asItWas, "{$name} in round {$round}");
                $whatIf = self::words(
                    (new RuleEngine(new AllThatIsThere(new Evaluator(self::source($readings)))))->run(
                        $rule,
                        [],
                        Instant::ofMs(0),
                        Instant::ofMs(self::END_MS),
                    )->transitions,
                );
                $differ += (int) ($whatIf !== $live);
            }
        }
        self::assertGreaterThan(40, $late);
        self::assertGreaterThan(3, $differ, 'had all come in time, some would have gone otherwise');
    }

    /** What comes as late as it always does is waited for, so nothing of it is late. */
    public function testWhoIsAlwaysThisLateIsWaitedFor(): void
    {
        $watched = new Punctuality(0);
        $late = 0;
        for ($at = 0; $at < 4 * 3_600_000; $at += 15_000) {
            $arrives = $at + 40_000;
            $late += (int) ($watched->seenFrom($at) > $at && $at > 60_000);
            $watched = $watched->learned($arrives, $arrives - $at)->settled($arrives);
        }
        self::assertSame(0, $late);
        self::assertSame(41_000, $watched->delayMs());
        $watched = $watched->learned($at, Punctuality::LONGEST_MS + 1);
        self::assertSame(41_000, $watched->delayMs(), 'what was filled in later is not waited for from then on');
        $through = $watched->throughMs;
        self::assertGreaterThan($through, $watched->seenFrom($at - 3_600_000));
        $watched = $watched->learned($at, 300_000)->settled($at);
        self::assertSame($through, $watched->throughMs, 'who waits longer never goes back');
        for ($hour = 0; $hour < 3; ++$hour) {
            $watched = $watched->learned($at += 3_600_000, 2_000)->settled($at);
        }
        self::assertSame(3_000, $watched->delayMs(), 'and is forgotten after two hours');
        self::assertSame($at, $watched->lookedThrough($at)->throughMs);
    }

    /**
     * What arrived, in the order of arrival, with the instant from which it is seen.
     *
     * @return list<Reading>
     */
    private static function arrived(int $round): array
    {
        $all = [];
        foreach (['a', 'b'] as $gate) {
            $level = 300.0;
            for ($at = 0; $at < self::END_MS; $at += 15_000) {
                $level = max(0.0, min(900.0, $level + mt_rand(-90, 92)));
                $lateness = match (true) {
                    mt_rand(0, 60) === 0 => mt_rand(60_000, 1_200_000),
                    $round % 3 === 0 => 5_000,
                    default => mt_rand(0, 30_000),
                };
                if (mt_rand(0, 40) > 0) {
                    $all[] = [
                        'gate' => $gate,
                        'atMs' => $at + ($gate === 'a' ? 1_000 : 4_500),
                        'arrivesMs' => $at + 5_000 + $lateness,
                        'value' => $level,
                        'seenFromMs' => 0,
                    ];
                }
            }
        }
        usort($all, static fn(array $a, array $b): int => $a['arrivesMs'] <=> $b['arrivesMs']);
        // Written down in batches, as a collector does: all of one second together, and then rules may look on.
        $watched = new Punctuality(0);
        $byBatch = [];
        foreach ($all as $one) {
            $byBatch[intdiv($one['arrivesMs'], 1_000)][] = $one;
        }
        $arrived = [];
        for ($second = 0; $second <= self::END_MS / 1_000 + 2_000; ++$second) {
            $before = $watched;
            foreach ($byBatch[$second] ?? [] as $one) {
                $arrived[] = array_replace($one, ['arrivesMs' => $second * 1_000, 'seenFromMs' => $before->seenFrom($one['atMs'])]);
                $watched = $watched->learned($second * 1_000, $second * 1_000 - $one['atMs']);
            }
            $watched = $watched->settled($second * 1_000);
            self::$through[$second] = $watched->throughMs;
        }

        return $arrived;
    }

    /** @var array<int, int> second → the instant through which rules may look then */
    private static array $through = [];

    /**
     * Every few seconds the rule looks at what has settled, with what has arrived by then.
     *
     * @param list<Reading> $readings
     *
     * @return list<string>
     */
    private function live(Rule $rule, array $readings): array
    {
        $pasts = new PastsAtHand();
        $alerts = [];
        $transitions = [];
        $done = 0;
        foreach (self::$through as $second => $through) {
            $through = min(self::END_MS, $through - ($through % self::STEP_MS));
            if ($through <= $done || $second % 5 !== 0) {
                continue;
            }
            $there = array_values(array_filter($readings, static fn(array $one): bool => $one['arrivesMs'] <= $second * 1_000));
            $part = self::asItWas($there, $pasts)->run(
                $rule,
                $alerts,
                Instant::ofMs($done),
                Instant::ofMs($through),
            );
            $alerts = $part->alerts;
            array_push($transitions, ...$part->transitions);
            $done = $through;
        }
        self::assertSame(self::END_MS, $done);

        return self::words($transitions);
    }

    /** @param list<Reading> $readings */
    private static function asItWas(array $readings, PastsAtHand $pasts = new PastsAtHand()): RuleEngine
    {
        $late = array_values(array_filter($readings, static fn(array $one): bool => $one['seenFromMs'] > $one['atMs']));
        $latecomers = new class ($late) implements Latecomers {
            /** @param list<array{gate: string, atMs: int, seenFromMs: int}> $readings */
            public function __construct(private readonly array $readings)
            {
            }

            public function isAnyHidden(int $atMs): bool
            {
                return array_filter($this->readings, static fn(array $one): bool => $one['seenFromMs'] > $atMs) !== [];
            }

            public function nextTurn(Select $what, int $fromMs, int $throughMs): ?int
            {
                $turns = array_filter(
                    array_column($this->readings, 'seenFromMs'),
                    static fn(int $turn): bool => $turn > $fromMs && $turn <= $throughMs,
                );

                return $turns === [] ? null : min($turns);
            }

            public function hidden(Select $what, int $afterMs, int $throughMs, int $seenAtMs): array
            {
                $hidden = [];
                foreach ($this->readings as $one) {
                    if ($one['seenFromMs'] > $seenAtMs && $one['atMs'] > $afterMs && $one['atMs'] <= $throughMs) {
                        $hidden["gate=\"{$one['gate']}\""][$one['atMs']] = true;
                    }
                }

                return $hidden;
            }
        };

        $evaluator = static fn(ReadingSource $source, ?PastsAtHand $kept): Evaluator => new Evaluator($source, pasts: $kept);

        return new RuleEngine(new AsItWas(self::source($readings), $latecomers, $evaluator, $pasts));
    }

    /** @param list<Reading> $readings */
    private static function source(array $readings): ReadingSource
    {
        $values = [];
        foreach ($readings as $one) {
            $values[$one['gate']][$one['atMs']] = $one['value'];
        }
        $source = new Readings(45_000);
        foreach ($values as $gate => $byTime) {
            ksort($byTime);
            $source->withMilliseconds('depth', ['gate' => $gate], $byTime);
        }

        return $source;
    }

    /**
     * @param list<AlertTransition> $transitions
     *
     * @return list<string>
     */
    private static function words(array $transitions): array
    {
        $words = array_map(
            static fn(AlertTransition $one): string => sprintf(
                '%09d %s %s>%s',
                $one->transition->at->ms,
                $one->labels->key(),
                $one->transition->from->value,
                $one->transition->to->value,
            ),
            $transitions,
        );
        sort($words);

        return $words;
    }

    /** @return iterable<string, Rule> of every kind that looks at readings */
    private static function rules(): iterable
    {
        $holding = PlainRules::holding(30_000, 15_000, 60_000);
        $limits = static fn(float $limit, float $clear): Limits => new Limits(Side::Above, [new Level(Severity::Major, $limit)], $clear);
        $threshold = new Threshold($limits(400, 350));
        $past = Baseline::ofPast(BaselineMethod::Median, Duration::ofHours(1), Duration::ofMinutes(20));
        $conditions = [
            'depth' => $threshold,
            'mean(depth, 1m)' => $threshold,
            'max(depth, 10m)' => $threshold,
            'missing(depth, 40s)' => $threshold,
            'sum(depth)' => new Threshold($limits(800, 700), new Counting(3, 5)),
            'depth default 0' => new Change(Way::Rises, $limits(0.3, 0.1), Duration::ofMinutes(5), true),
            'depth + 0' => new Departure($past, Way::Moves, $limits(2, 1)),
            'mean(depth, 2m)' => new Departure($past, Way::Rises, $limits(1.5, 1), 10),
            'depth * 1' => new Absence(Severity::Minor),
        ];
        foreach ($conditions as $formula => $condition) {
            yield $formula => PlainRules::rule($formula, $condition, $holding, self::STEP_MS);
        }
    }
}

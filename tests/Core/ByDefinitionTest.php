<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Narrowing;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Plan;
use Olivine\Core\Formula\Printer;
use PHPUnit\Framework\TestCase;

/**
 * Some thousand formulas put together by chance, over readings with gaps, ends, restarts and NaN: the evaluator, which
 * works in columns and slides its windows, against what the definition says instant by instant.
 *
 * @phpstan-import-type One from ByDefinition
 */
final class ByDefinitionTest extends TestCase
{
    private const STALE = 45;
    private const START = 1_795_000_005;
    private const SECONDS = 1_500;
    private const FORMULAS = 4_000;
    private const IN_WINDOWS = [
        'mean',
        'min',
        'max',
        'sum',
        'count',
        'first',
        'last',
        'range',
        'stddev',
        'median',
        'quantile',
        'mad',
        'change',
        'growth',
        'rate',
        'missing',
        'age',
    ];
    /** What is told from a line is rounded; whether it is exactly zero tells nothing. */
    private const LINES = ['slope', 'forecast'];
    private const ACROSS = ['sum', 'mean', 'min', 'max', 'count', 'median', 'stddev', 'quantile'];

    /** @var list<One> */
    private array $series = [];

    public function testTheEvaluatorSaysWhatTheDefinitionSays(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 1));
        $compared = 0;
        for ($i = 0; $i < self::FORMULAS; ++$i) {
            if ($i % 100 === 0) {
                $this->series = self::chance();
            }
            $depth = mt_rand(0, 3);
            $formula =
                $depth === 0
                    ? $this->leaf(['load', 'depth', 'jobs_total'][mt_rand(0, 2)], ['', ...self::IN_WINDOWS, ...self::LINES])
                    : $this->formula($depth);
            $from = self::START + mt_rand(200, self::SECONDS);
            $step = [1, 7, 15, 60][mt_rand(0, 3)];
            $instants = range($from, $from + mt_rand(0, 6) * $step, $step);
            foreach ($this->evaluated($formula->text, $instants) as $at => $got) {
                $expected = ($formula->at)($at);
                ksort($expected);
                self::assertSame(array_keys($expected), array_keys($got), "{$formula->text} at {$at}");
                foreach ($expected as $key => $value) {
                    self::assertTrue(
                        self::isSame($value, $got[$key]),
                        sprintf(
                            '%s at %d: %s is %s, by definition %s',
                            $formula->text,
                            $at,
                            $key,
                            var_export($got[$key], true),
                            var_export($value, true),
                        ),
                    );
                    ++$compared;
                }
            }
        }
        self::assertGreaterThan(5 * self::FORMULAS, $compared);
    }

    /** What an alert shows of itself is one line of its rule, and the same whether the others are read or not. */
    public function testOneLineIsTheSameWithoutTheOthers(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 2));
        $compared = 0;
        $spared = 0;
        for ($i = 0; $i < 600; ++$i) {
            if ($i % 50 === 0) {
                $this->series = self::chance();
            }
            $evaluator = new Evaluator($this->source());
            $tree = Parser::parse($this->formula(mt_rand(0, 3))->text);
            [$from, $to] = [1000 * (self::START + 700), 1000 * (self::START + 820)];
            foreach ($evaluator->range($tree, $from, $to, 15_000)->lines as $line) {
                $alone = $evaluator->line($tree, $line->labels, $from, $to, 15_000);
                self::assertNotNull($alone, Printer::print($tree));
                foreach ($line->values as $at => $value) {
                    self::assertTrue(
                        $value === $alone->values[$at]
                            || ($value !== null && $alone->values[$at] !== null && self::isSame($value, $alone->values[$at])),
                        sprintf(
                            '%s for %s: %s, alone %s',
                            Printer::print($tree),
                            $line->labels->key(),
                            var_export($value, true),
                            var_export($alone->values[$at], true),
                        ),
                    );
                }
                $plan = new Plan($this->source());
                $spared +=
                    $plan->load(Narrowing::to($tree, $line->labels->labels), $from, $to, 15_000)->readings <
                    $plan->load($tree, $from, $to, 15_000)->readings
                        ? 1
                        : 0;
                ++$compared;
            }
        }
        self::assertGreaterThan(1_000, $compared);
        self::assertGreaterThan(intdiv($compared, 3), $spared, 'and less is read');
    }

    /**
     * Two metrics of the same labels, one counter, one with a label less.
     *
     * @return list<One>
     */
    private static function chance(): array
    {
        $series = [];
        foreach (['n', 's'] as $site) {
            foreach (['a', 'b', 'c'] as $host) {
                $series[] = [
                    'metric' => 'load',
                    'labels' => ['site' => $site, 'host' => $host],
                    'values' => self::readings(static fn(): float => mt_rand(0, 40) / 8),
                ];
                $series[] = [
                    'metric' => 'depth',
                    'labels' => ['site' => $site, 'host' => $host],
                    'values' => self::readings(static fn(): float => mt_rand(0, 40) === 0 ? NAN : (float) mt_rand(-3, 3)),
                ];
                $counted = 0.0;
                $series[] = [
                    'metric' => 'jobs_total',
                    'labels' => ['site' => $site, 'host' => $host],
                    'values' => self::readings(static function () use (&$counted): float {
                        return $counted = mt_rand(0, 25) === 0 ? 0.0 : $counted + mt_rand(0, 9);
                    }),
                ];
            }
            $series[] = ['metric' => 'limit', 'labels' => ['site' => $site], 'values' => self::readings(static fn(): float => mt_rand(1, 5))];
        }

        return $series;
    }

    /**
     * Every fifteen seconds or so, with pauses, some said to be ends.
     *
     * @param \Closure(): float $next
     *
     * @return array<int, float|null>
     */
    private static function readings(\Closure $next): array
    {
        $values = [];
        for ($at = self::START + mt_rand(0, 14); $at < self::START + self::SECONDS; $at += mt_rand(0, 12) === 0 ? mt_rand(20, 300) : 15) {
            $values[$at] = mt_rand(0, 25) === 0 ? null : $next();
        }

        return $values;
    }

    private function source(): Readings
    {
        $readings = new Readings(1_000 * self::STALE);
        foreach ($this->series as $one) {
            $readings->with($one['metric'], $one['labels'], $one['values']);
        }

        return $readings;
    }

    private function formula(int $depth): ByDefinition
    {
        if ($depth === 0) {
            return $this->leaf(['load', 'depth', 'jobs_total'][mt_rand(0, 2)], ['', ...self::IN_WINDOWS]);
        }
        $of = $this->formula($depth - 1);
        $labels = [['site'], ['host'], ['site', 'host']][mt_rand(0, 2)];
        $other = $this->formula(0);

        return match (mt_rand(0, 13)) {
            0 => $of->ago(mt_rand(1, 200)),
            // All labels stay, so that what is paired later is paired one to one.
            1 => $of->across(self::ACROSS[array_rand(self::ACROSS)], ['site', 'host'], true),
            2 => $of->across(self::ACROSS[array_rand(self::ACROSS)], ['shelf'], false),
            3 => $of->ranked(mt_rand(0, 1) === 0, mt_rand(1, 4), $labels),
            4 => $of->ranked(mt_rand(0, 1) === 0, mt_rand(1, 4), []),
            5 => $of->outlier(['site']),
            6 => $of->with(self::operator(), $other->across(self::ACROSS[array_rand(self::ACROSS)], $labels, true)),
            7 => $of->with(self::operator(), $other),
            8 => $of->with(self::operator(), ByDefinition::select('limit', $this->series, self::STALE)),
            9 => $of->each('(', ' * 2.5)', static fn(float $value): float => $value * 2.5),
            10 => $of->each('(not (', '))', static fn(float $value): float => $value === 0.0 || is_nan($value) ? 1.0 : 0.0),
            11 => $of->each('-(', ')', static fn(float $value): float => -$value),
            12 => $of->each('clamp(', ', -1, 2)', static fn(float $value): float => is_nan($value) ? $value : min(2.0, max(-1.0, $value))),
            default => $depth > 1
                ? $of->each('abs(', ')', abs(...))
                : match (mt_rand(0, 3)) {
                    0 => ByDefinition::baseline(['median', 'mean', 'ewma'][mt_rand(0, 2)], $of, 60 * mt_rand(2, 8)),
                    1 => ByDefinition::deviation(['mad', 'stddev'][mt_rand(0, 1)], $of, 60 * mt_rand(2, 8)),
                    default => ByDefinition::overFormula(
                        ['mean', 'max', 'count', 'first', 'last', 'change', 'median'][mt_rand(0, 6)],
                        $of->each('(', ' + 0)', static fn(float $value): float => $value + 0),
                        mt_rand(10, 200),
                    ),
                },
        };
    }

    /** @param list<string> $functions */
    private function leaf(string $metric, array $functions): ByDefinition
    {
        [$where, $accepts] = [
            ['', null],
            ['', null],
            [' where site = "n"', static fn(array $labels): bool => $labels['site'] === 'n'],
            [' where host != "b" and rack = ""', static fn(array $labels): bool => $labels['host'] !== 'b'],
            [' where host in ("a", "b") or site not in ("n")', static fn(array $labels): bool => $labels['host'] !== 'c' || $labels['site'] !== 'n'],
            [
                ' where not (host matches "[bc]" and site like "n*")',
                static fn(array $labels): bool => $labels['host'] === 'a' || $labels['site'] !== 'n',
            ],
        ][mt_rand(0, 5)];
        $function = $functions[array_rand($functions)];

        return $function === ''
            ? ByDefinition::select($metric, $this->series, self::STALE, $where, $accepts)
            : ByDefinition::over($function, $metric, $this->series, self::STALE, [1, 15, 40, 60, 300][mt_rand(0, 4)], $where, $accepts);
    }

    private static function operator(): string
    {
        return ['+', '-', '*', '/', '>', '<=', 'and', 'or'][mt_rand(0, 7)];
    }

    /**
     * @param non-empty-list<int> $instants
     *
     * @return array<int, array<string, float>>
     */
    private function evaluated(string $formula, array $instants): array
    {
        $step = 1_000 * (($instants[1] ?? $instants[0] + 1) - $instants[0]);
        $sets = array_fill_keys($instants, []);
        foreach (
            (new Evaluator($this->source()))->range(Parser::parse($formula), 1_000 * $instants[0], 1_000 * end($instants), $step)->lines as $line
        ) {
            foreach ($line->values as $i => $value) {
                if ($value !== null) {
                    $sets[$instants[$i]][ByDefinition::key($line->labels->labels)] = $value;
                }
            }
        }
        foreach ($sets as &$set) {
            ksort($set);
        }

        return $sets;
    }

    private static function isSame(float $expected, float $got): bool
    {
        return $expected === $got || (is_nan($expected) && is_nan($got)) || abs($expected - $got) <= 1e-7 * max(1.0, abs($expected));
    }
}

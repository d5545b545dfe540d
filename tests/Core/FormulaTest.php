<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Catalogue;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Editing;
use Olivine\Core\Formula\Estimate;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Functions;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Tier;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class FormulaTest extends TestCase
{
    /** @return iterable<array{string, string}> formula, and how it is printed */
    public static function printed(): iterable
    {
        yield ['cpu', 'cpu'];
        yield [
            'mean( cpu where host like "web-*"  and not(role="batch" or zone matches "z[0-9]+") , 5m)',
            'mean(cpu where host like "web-*" and not (role = "batch" or zone matches "z[0-9]+"), 5m)',
        ];
        yield ['sum(rate(requests_total, 1m)) per host, `odd label`', 'sum(rate(requests_total, 1m)) per host, `odd label`'];
        yield ['max(a) dropping cpu / 2GiB', '(max(a) dropping cpu) / 2GiB'];
        yield ['a + b * c ^ -2', 'a + (b * (c ^ (-2)))'];
        yield ['a / b on host', 'a / b on host'];
        yield ['a > 80% and b default 0', '((a > 80%) and b) default 0'];
        yield ['x where c in ("1", "2\"") or d not in ("z")', 'x where c in ("1", "2\"") or d not in ("z")'];
        yield ['clamp(a, 0, 1.5) - now()', 'clamp(a, 0, 1.5) - now()'];
        yield ['(a + b) * c', '(a + b) * c'];
        yield ['a - (b - c)', 'a - (b - c)'];
        yield ['(a ^ b) ^ c', '(a ^ b) ^ c'];
        yield ['-(a + b) ^ 2', '-((a + b) ^ 2)'];
        yield ['(-a) ^ 2', '(-a) ^ 2'];
        yield ['not (a > b) and c', '(not (a > b)) and c'];
        yield ['(a ago 1h) ago 2h', 'a ago 1h ago 2h'];
        yield ['sum(a) per h ago 1d', '(sum(a) per h) ago 1d'];
        yield ['x where not (c = "1" and d = "2") and not not e = "3"', 'x where not (c = "1" and d = "2") and not not e = "3"'];
        yield ['max(rate(x, 1m), 1h30m)', 'max(rate(x, 1m), 1h30m)'];
        yield ['used = a + b; all = c; used / all', '(a + b) / c'];
        yield ['busy = mean(x where c = "1;2", 5m); twice = busy * 2; twice - busy', '(mean(x where c = "1;2", 5m) * 2) - mean(x where c = "1;2", 5m)'];
    }

    /** @return iterable<array{string, string}> where a list of labels ends and the next argument begins */
    public static function lists(): iterable
    {
        yield ['baseline(sum(x) per host, median, 14d)', 'baseline(sum(x) per host, median, 2w)'];
        yield ['deviation(a / b on host, site, mad, 1d)', 'deviation(a / b on host, site, mad, 1d)'];
        yield ['max(sum(x) per host, `mean`, 1h) / top(1, x) per mean, site', 'max(sum(x) per host, `mean`, 1h) / (top(1, x) per `mean`, site)'];
        yield ['max(sum(x) per host, site, 1h)', 'max(sum(x) per host, site, 1h)'];
    }

    #[DataProvider('printed')]
    #[DataProvider('lists')]
    public function testPrintsATreeThatParsesToTheSameTree(string $formula, string $expected): void
    {
        $printed = Printer::print(Parser::parse($formula));
        self::assertSame(self::bare(Parser::parse($formula)), self::bare(Parser::parse($printed)));
        self::assertSame(preg_replace('~[()]~', '', $expected), preg_replace('~[()]~', '', $printed));
        self::assertSame($printed, Printer::print(Parser::parse($printed)));
    }

    /** @return iterable<string, array{string, int, string}> formula, offset of the fault, part of the message */
    public static function faults(): iterable
    {
        yield 'nothing' => ['', 0, 'empty'];
        yield 'a misspelt metric' => ['sum(messaging_queue_dept)', 4, 'did you mean messaging_queue_depth?'];
        yield 'a misspelt function' => ['men(messaging_queue_depth, 5m)', 0, 'did you mean'];
        yield 'a number for a duration' => ['mean(messaging_queue_depth, 5)', 28, 'a duration such as 5m'];
        yield 'a duration where none goes' => ['outlier(messaging_queue_depth, 5m)', 0, 'outlier takes one argument'];
        yield 'rate without a duration' => ['rate(messaging_queue_depth)', 0, 'needs a duration'];
        yield 'a text that stays open' => ['a where b = "x', 12, 'no closing'];
        yield 'a label without a test' => ['a where b', 9, 'comes ='];
        yield 'a misspelt test' => ['a where b lik "x"', 10, 'did you mean like?'];
        yield 'a broken expression' => ['a where b matches "("', 18, 'regular expression'];
        yield 'two formulas' => ['messaging_queue_depth messaging_queue_depth', 22, 'an operator'];
        yield 'an unknown unit' => ['messaging_queue_depth > 5q', 24, 'q is no unit'];
        yield 'seconds against bytes' => ['memory_bytes > 5m', 15, 'in seconds, the other side in bytes'];
        yield 'an unclosed bracket' => ['(messaging_queue_depth', 22, 'Expected )'];
        yield 'a count of series that is none' => ['top(0, messaging_queue_depth)', 4, 'how many series'];
        yield 'half a series' => ['top(1.5, messaging_queue_depth)', 4, 'a whole number'];
        yield 'too many series' => ['bottom(10001, messaging_queue_depth)', 7, 'how many series'];
        yield 'a quantile beyond one' => ['quantile(1.5, messaging_queue_depth, 5m)', 9, 'from 0 to 1'];
        yield 'no time ago' => ['messaging_queue_depth ago 0s', 26, 'at most 400d'];
        yield 'too long ago' => ['messaging_queue_depth ago 401d', 26, 'at most 400d'];
        yield 'a misspelt method' => ['baseline(messaging_queue_depth, medain, 7d)', 32, 'did you mean median?'];
        yield 'a metric that is no histogram' => ['percentile(95, messaging_queue_depth, 5m)', 15, 'is no histogram'];
        yield 'an argument that a list of labels took' => [
            'voice_quality(sum(x) per host, y, z)',
            0,
            'host, y, z are taken for labels; if not all of them are, put brackets: (… per host)',
        ];
        yield 'a misspelt label in a filter' => ['a where quue = "x"', 8, 'No series of a has a label quue; did you mean queue?'];
        yield 'a misspelt label of a group' => ['sum(a) per brokr', 0, 'did you mean broker?'];
        yield 'a name that nothing uses' => ['used = a; b', 0, 'Nothing uses the name used'];
        yield 'a name given twice' => ['used = a; used = b; used', 10, 'used is named already'];
        yield 'a filter on a name' => ['used = a; used where host = "x"', 15, 'write where into what it stands for'];
        yield 'a name that is a function' => ['mean = a; mean', 0, 'a name of your own'];
        yield 'nothing after the names' => ['used = a;', 9, 'a metric, a number'];
        yield 'names of names of names' => [self::doubled(10), 96, 'a7 stands for too much'];
        yield 'too deep' => [str_repeat('(', 90) . '1', 60, 'levels deep'];
    }

    /** `a0 = x + x; a1 = a0 + a0; …`, each twice as much as the one before: 3, 7, 15 … 255 and 511 parts. */
    private static function doubled(int $names): string
    {
        $formula = 'a0 = x + x; ';
        for ($i = 1; $i < $names; ++$i) {
            $formula .= sprintf('a%d = a%2$d + a%2$d; ', $i, $i - 1);
        }

        return "{$formula}a" . ($names - 1);
    }

    #[DataProvider('faults')]
    public function testAFaultNamesItsPlaceAndTheRemedy(string $formula, int $offset, string $message): void
    {
        try {
            (new Checker(self::catalogue()))->unitOf(Parser::parse($formula));
            self::fail('It was accepted');
        } catch (FormulaError $error) {
            self::assertStringContainsString($message, $error->getMessage());
            self::assertSame($offset, $error->place->offset, $error->getMessage());
        }
    }

    /** @return iterable<string, array{string, string}> formula and the unit of its result */
    public static function units(): iterable
    {
        yield 'of the metric' => ['memory_bytes', 'bytes'];
        yield 'kept by mean, sum and ago' => ['sum(mean(memory_bytes ago 1h, 5m)) per h', 'bytes'];
        yield 'none of a count' => ['count(memory_bytes) + count(memory_bytes, 5m)', ''];
        yield 'a rate' => ['rate(memory_bytes, 5m)', 'bytes per second'];
        yield 'a rate of what has none' => ['rate(messaging_queue_depth, 5m)', 'per second'];
        yield 'seconds a second are a share' => ['rate(wait_seconds, 5m)', 'ratio'];
        yield 'a rate times seconds' => ['rate(memory_bytes, 5m) * wait_seconds', 'bytes'];
        yield 'seconds times a rate say nothing' => ['wait_seconds * rate(memory_bytes, 5m)', ''];
        yield 'a share of it' => ['memory_bytes * load_ratio', 'bytes'];
        yield 'of a share' => ['load_ratio * memory_bytes', 'bytes'];
        yield 'two by itself' => ['memory_bytes / memory_bytes', 'ratio'];
        yield 'by a number' => ['memory_bytes / 2', 'bytes'];
        yield 'by seconds' => ['memory_bytes / wait_seconds', 'bytes per second'];
        yield 'one by seconds' => ['messaging_queue_depth / wait_seconds', 'per second'];
        yield 'bytes by a share say nothing' => ['memory_bytes / load_ratio', ''];
        yield 'a number and bytes' => ['1 + memory_bytes', 'bytes'];
        yield 'a default' => ['memory_bytes default 0', 'bytes'];
        yield 'a comparison' => ['memory_bytes > 5KiB', ''];
        yield 'its age' => ['age(memory_bytes)', 'seconds'];
        yield 'now' => ['now() - wait_seconds', 'seconds'];
        yield 'a root' => ['sqrt(memory_bytes)', ''];
        yield 'the size of it' => ['abs(memory_bytes)', 'bytes'];
        yield 'how far from usual' => ['deviation(memory_bytes, mad, 7d)', ''];
        yield 'what is usual' => ['baseline(memory_bytes, median, 7d)', 'bytes'];
    }

    #[DataProvider('units')]
    public function testKnowsTheUnit(string $formula, string $unit): void
    {
        self::assertSame($unit, (new Checker(self::catalogue()))->unitOf(Parser::parse($formula)));
    }

    private static function catalogue(): Catalogue
    {
        return new class implements Catalogue {
            private const UNITS = [
                'messaging_queue_depth' => '',
                'memory_bytes' => 'bytes',
                'a' => '',
                'wait_seconds' => 'seconds',
                'load_ratio' => 'ratio',
            ];

            public function has(string $metric): bool
            {
                return isset(self::UNITS[$metric]);
            }

            public function unit(string $metric): string
            {
                return self::UNITS[$metric];
            }

            public function names(): array
            {
                return array_keys(self::UNITS);
            }

            public function labels(string $metric): array
            {
                return ['queue', 'broker', 'h', 'b'];
            }
        };
    }

    /** @return iterable<string, array{string, array<string, float>}> formula and its value at 00:01:00 by labels, worked out by hand */
    public static function values(): iterable
    {
        yield 'the newest reading' => ['q where h = "a"', ['h="a"' => 5.0]];
        yield 'a series that ended is not there' => ['gone', []];
        yield 'a reading as old as three intervals still counts' => ['aging', ['' => 1.0]];
        yield 'one that is older does not' => ['stale', []];
        yield 'the window is half open' => ['count(q, 45s)', ['h="a"' => 3.0, 'h="b"' => 3.0]];
        yield 'mean, with NaN left out' => ['mean(holes, 1m)', ['' => 3.0]];
        yield 'min and max' => ['max(q, 1m) - min(q, 1m)', ['h="a"' => 3.0, 'h="b"' => 30.0]];
        yield 'an empty window is no series' => ['mean(q, 1ms) where_nothing', []];
        yield 'a counter that restarts inside the window' => ['growth(c, 45s)', ['' => 9.0]];
        yield 'its rate' => ['rate(c, 45s)', ['' => 0.2]];
        yield 'growth begins at the reading before the window' => ['growth(c, 20s)', ['' => 5.0]];
        yield 'sum over all' => ['sum(q)', ['' => 55.0]];
        yield 'per label' => ['sum(q) per h', ['h="a"' => 5.0, 'h="b"' => 50.0]];
        yield 'the side with fewer labels spreads' => ['used / total', ['d="x",h="a"' => 0.25, 'd="y",h="a"' => 0.5]];
        yield 'whichever side it is' => ['total / used', ['d="x",h="a"' => 4.0, 'd="y",h="a"' => 2.0]];
        yield 'comparison gives 1 or 0' => ['q > 10', ['h="a"' => 0.0, 'h="b"' => 1.0]];
        yield 'NaN never compares true' => ['(nan != 1) + (nan = nan) + (nan < 1)', ['' => 0.0]];
        yield 'division by zero follows IEEE 754' => ['q where h = "a" / 0', []];
        yield 'either is enough for or' => ['(1 > 2 or 2 > 1) + 0 * sum(q)', ['' => 1.0]];
        yield 'both are needed for and' => ['(1 < 2 and 2 < 1) + 0 * sum(q)', ['' => 0.0]];
        yield 'default keeps what is there, and takes those that the other side alone has' => [
            '(q where h = "a") default q',
            ['h="a"' => 5.0, 'h="b"' => 50.0],
        ];
        yield 'default fills a hole with the other side' => ['gone default sum(q)', ['' => 55.0]];
        yield 'an operator leaves out what one side alone has' => ['q + (q where h = "b")', ['h="b"' => 100.0]];
        yield 'paired on a label that is named' => ['used - total on h', ['d="x",h="a"' => -75.0, 'd="y",h="a"' => -50.0]];
        yield 'default fills what is missing' => ['sum(gone) default 7', ['' => 7.0]];
        yield 'units' => ['0 * sum(q) + 2KiB / 1B + 1h / 1m + 50%', ['' => 2108.5]];
        yield 'strength of operators' => ['0 * sum(q) + 2 + 3 * 2 ^ 2', ['' => 14.0]];
        yield 'a power is stronger than its sign' => ['0 * sum(q) + -2 ^ 2', ['' => -4.0]];
        yield 'the slope of two readings' => ['slope(q, 20s) * 15', ['h="a"' => 1.0, 'h="b"' => 10.0]];
        yield 'one reading has no slope' => ['slope(q, 10s)', []];
        yield 'inner formulas run on their own grid' => ['max(sum(q), 30s)', ['' => 55.0]];
    }

    /** @param array<string, float> $expected */
    #[DataProvider('values')]
    public function testWorksOutValues(string $formula, array $expected): void
    {
        $formula = str_replace([' where_nothing', 'q where h = "a" / 0'], ['', '(q where h = "zzz") / 0'], $formula);
        $lines = (new Evaluator(self::readings()))->range(Parser::parse($formula), 60_000, 60_000, 1)->lines;
        if (str_contains($formula, '1ms')) {
            $lines = (new Evaluator(self::readings()))->range(Parser::parse($formula), 59_999, 59_999, 1)->lines;
        }
        $found = [];
        foreach ($lines as $line) {
            $found[$line->labels->key()] = $line->values[0];
        }
        ksort($found);
        self::assertEqualsWithDelta($expected, $found, 1e-12);
    }

    /** @return iterable<string, array{string, \Closure(Node): Node, string}> formula, what a person chooses, the formula then */
    public static function edits(): iterable
    {
        $only = static fn(string $label, string $value): \Closure => static fn(Node $node): Node => Editing::only($node, 'load', $label, $value);
        $per = static fn(?string $label): \Closure => static fn(Node $node): Node => Editing::per($node, $label);
        yield 'the first filter' => ['mean(load, 5m)', $only('site', 's'), 'mean(load where site = "s", 5m)'];
        yield 'a filter beside another' => ['load where host = "a"', $only('site', 's'), 'load where host = "a" and site = "s"'];
        yield 'another value of the same label' => [
            'load where site = "n" and host = "a"',
            $only('site', 's'),
            'load where host = "a" and site = "s"',
        ];
        yield 'the same label asked otherwise stays' => ['load where site != "n"', $only('site', 's'), 'load where site != "n" and site = "s"'];
        yield 'either of two, and a third' => [
            'load where host = "a" or site = "n"',
            $only('site', 's'),
            'load where (host = "a" or site = "n") and site = "s"',
        ];
        yield 'none of them' => ['load where not (site = "n")', $only('site', 's'), 'load where not site = "n" and site = "s"'];
        yield 'a name within another name' => ['overload / load + 1', $only('site', 's'), '(overload / (load where site = "s")) + 1'];
        yield 'every place of the metric, deep inside' => [
            'outlier(abs(load ago 1h)) per host - top(2, deviation(load, mad, 1d))',
            $only('site', 's'),
            'outlier(abs((load where site = "s") ago 1h)) per host - top(2, deviation(load where site = "s", mad, 1d))',
        ];
        yield 'a histogram by its buckets' => [
            'percentile(95, load, 5m)',
            static fn(Node $node): Node => Editing::only($node, 'load_bucket', 'site', 's'),
            'percentile(95, load where site = "s", 5m)',
        ];
        yield 'signs in labels and values' => ['load', $only('odd label', 'say "a\\b"'), 'load where `odd label` = "say \"a\\\\b\""'];
        yield 'one line a host' => ['rate(jobs, 5m)', $per('host'), 'mean(rate(jobs, 5m)) per host'];
        yield 'by another label than before' => ['sum(rate(jobs, 5m)) per site', $per('host'), 'sum(rate(jobs, 5m)) per host'];
        yield 'each by itself again' => ['quantile(0.9, jobs) per site', $per(null), 'jobs'];
        yield 'each by itself already' => ['rate(jobs, 5m)', $per(null), 'rate(jobs, 5m)'];
        yield 'a sum over a sum is one part' => ['sum(a) per x / sum(b) per x', $per('x'), 'mean(sum(a) per x / sum(b) per x) per x'];
        yield 'the same quantile by another label' => ['quantile(0.9, jobs) per site', $per('host'), 'quantile(0.9, jobs) per host'];
    }

    /** @param \Closure(Node): Node $choose */
    #[DataProvider('edits')]
    public function testAFormulaIsChangedByChoosing(string $formula, \Closure $choose, string $expected): void
    {
        $printed = Printer::print($choose(Parser::parse($formula)));
        self::assertSame($expected, $printed);
        self::assertSame($printed, Printer::print(Parser::parse($printed)), 'and can be read');
    }

    /** @return iterable<string, array{string, string}> formula and its tree as JSON, without places */
    public static function trees(): iterable
    {
        yield 'a select' => [
            'q where h = "a" and not (d in ("x", "y") or d like "z*")',
            '{"kind":"select","metric":"q","where":{"and":[{"label":"h","operator":"=","values":["a"]},{' .
            '"not":{"or":[{"label":"d","operator":"in","values":["x","y"]},{"label":"d","operator":"like","values":["z*"]}]}}]}}',
        ];
        yield 'over time, ago' => [
            'mean(q ago 90s, 5m)',
            '{"kind":"over time","function":"mean","windowSeconds":300,"of":[{"kind":"ago","bySeconds":90,"of":[' .
            '{"kind":"select","metric":"q","where":null}]}]}',
        ];
        yield 'a quantile' => [
            'quantile(0.9, q, 1m)',
            '{"kind":"over time","function":"quantile","windowSeconds":60,"parameter":0.9,"of":[{"kind":"select","metric":"q","where":null}]}',
        ];
        yield 'across series' => [
            'sum(q) per h',
            '{"kind":"across series","function":"sum","per":["h"],"of":[{"kind":"select","metric":"q","where":null}]}',
        ];
        yield 'the highest' => ['top(3, q)', '{"kind":"top","count":3,"of":[{"kind":"select","metric":"q","where":null}]}'];
        yield 'the lowest' => ['bottom(2, q)', '{"kind":"bottom","count":2,"of":[{"kind":"select","metric":"q","where":null}]}'];
        yield 'an outlier' => ['outlier(q) per h', '{"kind":"outlier","per":["h"],"of":[{"kind":"select","metric":"q","where":null}]}'];
        yield 'an operator on labels' => [
            '-q / 2 on h',
            '{"kind":"operator","operator":"/","on":["h"],"' .
            'of":[{"kind":"negative","of":[{"kind":"select","metric":"q","where":null}]},{"kind":"number","value":2.0,"unit":null}]}',
        ];
        yield 'an operator' => [
            'not q > 1h',
            '{"kind":"not","of":[{"kind":"operator","operator":">","of":[{"kind":"select","metric":"q","where":null},{' .
            '"kind":"number","value":3600.0,"unit":"seconds"}]}]}',
        ];
        yield 'now, age and what is missing' => [
            'now() - age(q) + missing(q, 2m)',
            '{"kind":"operator","operator":"+","of":[{"kind":"operator","operator":"-","of":[{"kind":"now"},{' .
            '"kind":"age","of":[{"kind":"select","metric":"q","where":null}]}]},{' .
            '"kind":"missing","windowSeconds":120,"of":[{"kind":"select","metric":"q","where":null}]}]}',
        ];
        yield 'what is usual' => [
            'deviation(q, mad, 7d) + baseline(q, median, 1d)',
            '{"kind":"operator","operator":"+","of":[{"kind":"deviation","yardstick":"mad","spanSeconds":604800,' .
            '"of":[{"kind":"select","metric":"q","where":null}]},{"kind":"baseline",' .
            '"method":"median","spanSeconds":86400,"of":[{"kind":"select","metric":"q","where":null}]}]}',
        ];
        yield 'a percentile' => [
            'percentile(95, q, 5m) per h',
            '{"kind":"percentile","percent":95.0,"windowSeconds":300,"per":["h"],"of":[{"kind":"select","metric":"q","where":null}]}',
        ];
        yield 'the hour' => ['hour("Europe/Lisbon")', '{"kind":"hour","zone":"Europe/Lisbon"}'];
    }

    /** Tools read this; its places are those of the parts in the text. */
    #[DataProvider('trees')]
    public function testTellsItsTree(string $formula, string $json): void
    {
        self::assertSame($json, self::bare(Parser::parse($formula)));
        $inside = static function (array $data, int $from, int $to) use (&$inside): void {
            self::assertGreaterThan(0, $data['length']);
            self::assertGreaterThanOrEqual($from, $data['offset']);
            self::assertLessThanOrEqual($to, $data['offset'] + $data['length']);
            foreach ($data['of'] ?? [] as $part) {
                $inside($part, 0, $to);
            }
        };
        $inside(Tree::data(Parser::parse($formula)), 0, strlen($formula));
    }

    /** A tree as JSON, without the places of its parts. */
    private static function bare(Node $tree): string
    {
        $bare = static function (array $data) use (&$bare): array {
            unset($data['offset'], $data['length']);

            return array_map(static fn(mixed $part): mixed => is_array($part) ? $bare($part) : $part, $data);
        };

        return json_encode(
            $bare(Tree::data($tree)),
            JSON_PRESERVE_ZERO_FRACTION | JSON_UNESCAPED_SLASHES | JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE,
        ) ?:
            '';
    }

    public function testAnAmbiguousPairingShowsTheClash(): void
    {
        $this->expectExceptionMessageMatches('~several series.*d="x".*on~s');
        (new Evaluator(self::readings()))->range(Parser::parse('used / used on h'), 60_000, 60_000, 1);
    }

    public function testARangeInTwoHalvesEqualsTheWholeAndAnInstantItsLastPoint(): void
    {
        mt_srand(8);
        $readings = new Readings();
        foreach (['a', 'b', 'c'] as $host) {
            $values = [];
            $counter = 0.0;
            for ($second = mt_rand(0, 14); $second < 3_600; $second += mt_rand(13, 17)) {
                $counter = mt_rand(0, 60) === 0 ? 0.0 : $counter + mt_rand(0, 9) + mt_rand() / mt_getrandmax();
                $values[$second] = mt_rand(0, 40) === 0 ? null : $counter;
            }
            $readings->with('m', ['h' => $host], $values);
        }
        $evaluator = new Evaluator($readings);
        foreach (
            [
                'm',
                'mean(m, 5m)',
                'rate(m, 2m)',
                'sum(growth(m, 1m)) per h',
                'max(rate(m, 1m), 10m)',
                'mean(m, 3m) / sum(m) + count(m, 1m)',
                'min(m) default 0',
                'now() - last(m, 4m)',
                'quantile(0.9, m, 5m)',
                'mad(m, 5m) + stddev(m, 5m)',
                'slope(m, 5m)',
                'forecast(m, 5m, 10m)',
                'age(m)',
                'missing(m, 30s)',
                'm ago 5m',
                'mean(m ago 1m, 3m) ago 1m',
                'top(1, m)',
                'outlier(m)',
                'hour("Asia/Kolkata") + m',
                'baseline(m, median, 20m)',
                'baseline(m, ewma, 20m)',
                'baseline(m, same_hour, 1d) default 1',
                'deviation(m, stddev, 30m)',
                'deviation(rate(m, 1m), mad, 9h)',
            ] as $text
        ) {
            $formula = Parser::parse($text);
            $whole = self::table($evaluator->range($formula, 600_000, 3_300_000, 30_000)->lines);
            $cut = 600_000 + 30_000 * mt_rand(5, 80);
            $first = self::table($evaluator->range($formula, 600_000, $cut, 30_000)->lines);
            $second = self::table($evaluator->range($formula, $cut + 30_000, 3_300_000, 30_000)->lines);
            $instants = intdiv($cut - 600_000, 30_000) + 1;
            foreach ($whole as $key => $values) {
                self::assertSame(
                    $values,
                    [...$first[$key] ?? array_fill(0, $instants, null), ...$second[$key] ?? array_fill(0, count($values) - $instants, null)],
                    "{$text} in two halves",
                );
            }
            $instant = self::table($evaluator->range($formula, 3_300_000, 3_300_000, 1)->lines);
            foreach ($instant as $key => $values) {
                self::assertSame(end($whole[$key]), $values[0], "{$text} at one instant");
            }
        }
    }

    /** Of readings that were let go the last one in each bucket is left, and its time. */
    public function testANewestReadingIsTakenFromWhatIsLeft(): void
    {
        $source = new class implements ReadingSource {
            public function windows(Select $what, int $afterMs, int $throughMs): array
            {
                return [];
            }

            public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
            {
                return null;
            }

            public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
            {
                FormulaTest::assertSame(0, $afterMs % $tier->bucketMs());
                FormulaTest::assertSame(0, $throughMs % $tier->bucketMs());

                return $tier === Tier::FiveMinutes
                    ? [
                        new Buckets(
                            LabelSet::none(),
                            60_000,
                            [300_000, 600_000],
                            [9, 9],
                            [1.0, 3.0],
                            [2.0, 4.0],
                            [1.0, 3.0],
                            [2.0, 4.0],
                            [9.0, 9.0],
                            null,
                            [1, 300_001],
                            [290_000, 520_000],
                        ),
                    ]
                    : null;
            }

            public function alerts(string $rule, int $afterMs, int $throughMs): array
            {
                return [];
            }

            public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
            {
                return new Estimate(1, 20.0);
            }

            public function longestStaleMs(Select $what): int
            {
                return 60_000;
            }
        };
        $values = static fn(string $formula, int $from, int $to, int $step): array => array_map(
            static fn(Line $line): array => $line->values,
            (new Evaluator($source))->range(Parser::parse($formula), $from, $to, $step)->lines,
        );
        self::assertSame([[2.0, null, null]], $values('q', 300_000, 900_000, 300_000), 'the second one is stale by the end of its bucket');
        self::assertSame([[3.0]], $values('q + 1', 300_000, 300_000, 1), 'at one instant too');
        self::assertSame([], $values('q', 300_000, 900_000, 420_000), 'buckets say nothing of instants within');
        self::assertSame([], $values('q', 299_000, 899_000, 300_000));
    }

    public function testTenThousandMutatedFormulasGiveAResultOrOurOwnError(): void
    {
        mt_srand(4);
        $worked = 0;
        $faults = 0;
        $pieces = [];
        foreach (Functions::ALL as $name => [$usages, , $example]) {
            array_push($pieces, "{$name}(", ...preg_split('~(?<=[^\w"])|(?=[^\w"])~', implode(' ', [...$usages, $example])) ?: []);
        }
        foreach (self::printed() as [$formula]) {
            array_push($pieces, ...preg_split('~(?<=\W)|(?=\W)~', $formula) ?: []);
        }
        $wholes = [...array_column(iterator_to_array(self::printed(), false), 0), ...array_column(array_values(Functions::ALL), 2)];
        $evaluator = new Evaluator(self::readings());
        $memory = memory_get_usage();
        $from = microtime(true);
        for ($i = 0; $i < 10_000; ++$i) {
            if (mt_rand(0, 1) === 0) {
                $text = $wholes[mt_rand(0, count($wholes) - 1)];
                for ($n = mt_rand(1, 3); $n > 0; --$n) {
                    $text = substr_replace($text, $pieces[mt_rand(0, count($pieces) - 1)], mt_rand(0, strlen($text)), mt_rand(0, 6));
                }
                $text = (string) preg_replace('~\b[a-z]+_[a-z_]+\b(?!\()~', ['q', 'used', 'c'][mt_rand(0, 2)], $text);
            } else {
                $text = '';
                for ($n = mt_rand(1, 14); $n > 0; --$n) {
                    $text .= mt_rand(0, 20) === 0 ? chr(mt_rand(0, 255)) : $pieces[mt_rand(0, count($pieces) - 1)];
                }
            }
            try {
                $tree = Parser::parse($text);
                $printed = Printer::print($tree);
                self::assertSame(self::bare($tree), self::bare(Parser::parse($printed)), $text);
                foreach ($evaluator->range($tree, 45_000, 60_000, 15_000)->lines as $line) {
                    self::assertCount(2, $line->values, $text);
                }
                ++$worked;
            } catch (FormulaError $error) {
                ++$faults;
                self::assertLessThanOrEqual(strlen($text), $error->place->offset + $error->place->length, $text);
            }
        }
        self::assertGreaterThan(800, $worked);
        self::assertGreaterThan(1_000, $faults);
        self::assertLessThan(60.0, microtime(true) - $from);
        self::assertLessThan(4_000_000, memory_get_usage() - $memory, 'memory does not grow');
    }

    /**
     * @param list<Line> $lines
     *
     * @return array<string, list<float|null>>
     */
    private static function table(array $lines): array
    {
        $table = [];
        foreach ($lines as $line) {
            $table[$line->labels->key()] = $line->values;
        }

        return $table;
    }

    private static function readings(): Readings
    {
        return (new Readings())
            ->with('q', ['h' => 'a'], [15 => 2.0, 30 => 3.0, 45 => 4.0, 60 => 5.0])
            ->with('q', ['h' => 'b'], [15 => 20.0, 30 => 30.0, 45 => 40.0, 60 => 50.0])
            ->with('gone', [], [30 => 1.0, 45 => 2.0, 60 => null])
            ->with('aging', [], [15 => 1.0])
            ->with('stale', [], [14 => 1.0])
            ->with('holes', [], [15 => 2.0, 30 => NAN, 45 => 4.0])
            ->with('nan', [], [60 => NAN])
            ->with('c', [], [15 => 10.0, 30 => 14.0, 45 => 3.0, 60 => 5.0])
            ->with('used', ['h' => 'a', 'd' => 'x'], [60 => 25.0])
            ->with('used', ['h' => 'a', 'd' => 'y'], [60 => 50.0])
            ->with('total', ['h' => 'a'], [60 => 100.0]);
    }
}

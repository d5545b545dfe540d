<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Layout;
use Olivine\Core\Exposition\Limits;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Exposition\TextWriter;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ExpositionTest extends TestCase
{
    /** Everything the newer form can say, in one text. */
    private const WHOLE = <<<'TEXT'
    # TYPE http_requests counter
    # UNIT http_requests requests
    # HELP http_requests Requests, \"all\" of them\nby route \\ status
    http_requests_total{route="/a\"b",status="200"} 1027 1395066363.5
    http_requests_created{route="/a\"b",status="200"} 1395066000.1
    # TYPE latency_seconds histogram
    # UNIT latency_seconds seconds
    latency_seconds_bucket{le="0.1"} 8 # {trace_id="x1"} 0.067 1395066363.1
    latency_seconds_bucket{le="+Inf"} 10
    latency_seconds_sum 1.5e0
    latency_seconds_count 10
    # TYPE rpc_seconds summary
    rpc_seconds{quantile="0.5"} 0.25
    rpc_seconds_sum 3
    rpc_seconds_count 9
    # TYPE build info
    build_info{version="4.18"} 1
    # TYPE door stateset
    door{door="open"} 1
    door{door="closed"} 0
    # TYPE odd gauge
    odd{case="nan"} NaN
    odd{case="inf"} +Inf
    odd{case="minus"} -Inf
    odd{case="tiny"} -.5e-3
    loose 7
    # EOF

    TEXT;

    public function testReadsTheWholeGrammarOfOpenMetrics(): void
    {
        $read = TextReader::read(self::whole(), Form::OpenMetrics);
        $values = [];
        foreach ($read->samples as $sample) {
            $values[$sample->name . '{' . $sample->labels->key() . '}'] = $sample->value;
        }
        self::assertCount(17, $read->samples);
        self::assertSame(1027.0, $values['http_requests_total{route="/a\"b",status="200"}']);
        self::assertSame(1_395_066_363_500, $read->samples[0]->atMs);
        self::assertSame(8.0, $values['latency_seconds_bucket{le="0.1"}']);
        self::assertNan($values['odd{case="nan"}']);
        self::assertSame([INF, -INF, -0.0005], [$values['odd{case="inf"}'], $values['odd{case="minus"}'], $values['odd{case="tiny"}']]);
        self::assertSame("Requests, \"all\" of them\nby route \\ status", $read->families['http_requests']->help);
        self::assertSame(MetricType::StateSet, $read->families['door']->type);
        self::assertNull($read->families['loose']->type);
    }

    public function testReadsTheOlderForm(): void
    {
        $read = TextReader::read(
            "# a free remark\n#TYPE\n# TYPE  rpc untyped\n# HELP rpc says \"so\\n\"\nrpc { a = \"1\" , b=\"\\\\x\", }  2.5   " .
            "1395066363000\n\n# TYPE up counter\nup_total 3\nup 4\r\n\t ok\t1\n",
            Form::Plain004,
        );
        self::assertSame(['rpc', 'up_total', 'up', 'ok'], array_map(static fn(Sample $sample): string => $sample->name, $read->samples));
        self::assertSame(['a' => '1', 'b' => '\\x'], $read->samples[0]->labels->labels);
        self::assertSame(1_395_066_363_000, $read->samples[0]->atMs);
        self::assertSame(MetricType::Unknown, $read->families['rpc']->type);
    }

    /** @return iterable<string, array{string, int, int, string, 4?: Form}> text, line, column, part of what was expected */
    public static function badTexts(): iterable
    {
        yield 'the end is cut off' => ["a 1\n", 2, 1, '# EOF'];
        yield 'something after the end' => ["# EOF\na 1\n", 2, 1, 'nothing after'];
        yield 'an empty line' => ["a 1\n\n# EOF\n", 2, 1, 'metric name'];
        yield 'no value' => ["a\n# EOF\n", 1, 2, 'a value'];
        yield 'a word for a value' => ["a one\n# EOF\n", 1, 3, 'a number'];
        yield 'two spaces' => ["a  1\n# EOF\n", 1, 2, 'one space'];
        yield 'a label without quotes' => ["a{b=c} 1\n# EOF\n", 1, 3, 'label as name="value"'];
        yield 'a label twice' => ["a{b=\"1\",b=\"2\"} 1\n# EOF\n", 1, 9, 'label b once'];
        yield 'a bracket that stays open' => ["a{b=\"1\" 1\n# EOF\n", 1, 8, 'closing }'];
        yield 'an escape that is none' => ["a{b=\"\\q\"} 1\n# EOF\n", 1, 6, 'escapes'];
        yield 'a series twice' => ["a{b=\"1\"} 1\na{b=\"1\"} 2\n# EOF\n", 2, 1, 'each series once'];
        yield 'a family in two places' => ["# TYPE a gauge\na 1\n# TYPE b gauge\nb 1\na{x=\"1\"} 2\n# EOF\n", 5, 1, 'together'];
        yield 'a type after samples' => ["a 1\n# TYPE a gauge\n# EOF\n", 2, 1, 'before its samples'];
        yield 'a type twice' => ["# TYPE a gauge\n# TYPE a gauge\n# EOF\n", 2, 1, 'one # TYPE'];
        yield 'a type that does not exist' => ["# TYPE a gouge\n# EOF\n", 1, 10, 'a type'];
        yield 'a unit that is not in the name' => ["# TYPE a_seconds gauge\n# UNIT a_seconds bytes\n# EOF\n", 2, 18, 'unit'];
        yield 'a counter without _total' => ["# TYPE a counter\na 1\n# EOF\n", 2, 1, 'a_total'];
        yield 'a bucket without le' => ["# TYPE a histogram\na_bucket 1\n# EOF\n", 2, 9, 'label le'];
        yield 'an exemplar on a gauge' => ["# TYPE a gauge\na 1 # {} 1\n# EOF\n", 2, 4, 'exemplar only'];
        yield 'an escape that is none, further on' => ["a{b=\"1\",c=\"x\\q\"} 1\n# EOF\n", 1, 13, 'escapes'];
        yield 'an exemplar without labels' => ["# TYPE a counter\na_total 1 # x\n# EOF\n", 2, 13, 'an exemplar as'];
        yield 'an exemplar without a value' => ["# TYPE a counter\na_total 1 # {} x\n# EOF\n", 2, 15, 'the value of the exemplar'];
        yield 'a comma and nothing after it' => ["a{b=\"1\",} 1\n# EOF\n", 1, 9, 'a label after the comma'];
        yield 'no comma between labels' => ["a{b=\"1\"c=\"2\"} 1\n# EOF\n", 1, 8, 'a comma or the closing }'];
        yield 'help twice' => ["# HELP a x\n# HELP a y\n# EOF\n", 2, 1, 'one # HELP'];
        yield 'a unit twice' => ["# TYPE a_seconds gauge\n# UNIT a_seconds seconds\n# UNIT a_seconds seconds\n# EOF\n", 3, 1, 'one # UNIT'];
        yield 'a comment of another sort' => ["# NOTE a\n# EOF\n", 1, 1, '# HELP, # TYPE, # UNIT'];
        yield 'a family described in two places' => [
            "# TYPE a gauge\na 1\n# TYPE b gauge\nb 1\n# HELP a late\n# EOF\n",
            5,
            1,
            'all lines of family a together',
        ];
        yield 'an older time of the same series' => ["a 1 20\na 2 10\n# EOF\n", 2, 1, 'a later timestamp'];
        yield 'the same series with and without a time' => ["a 1 20\na 2\n# EOF\n", 2, 1, 'each series once'];
        yield 'a time that is no time' => ["a 1 soon\n# EOF\n", 1, 5, 'seconds'];
        yield 'a histogram without +Inf' => ["# TYPE a histogram\na_bucket{le=\"1\"} 1\na_count 1\n# EOF\n", 2, 1, 'le="+Inf" as the last one'];
        yield 'one of two histograms without +Inf' => [
            "# TYPE a histogram\na_bucket{b=\"x\",le=\"+Inf\"} 1\na_bucket{b=\"y\",le=\"1\"} 1\n# TYPE c gauge\nc 1\n# EOF\n",
            3,
            1,
            'le="+Inf"',
        ];
        yield 'a gauge histogram without +Inf' => ["# TYPE a gaugehistogram\na_bucket{le=\"1\"} 1\n# EOF\n", 2, 1, 'le="+Inf"'];
        yield 'bounds that fall' => [
            "# TYPE a histogram\na_bucket{le=\"2\"} 1\na_bucket{le=\"1\"} 1\na_bucket{le=\"+Inf\"} 1\n# EOF\n",
            3,
            9,
            'bounds that rise; le="2" stands before it',
        ];
        yield 'a bound twice, written in two ways' => [
            "# TYPE a histogram\na_bucket{le=\"1\"} 1\na_bucket{le=\"1.0\"} 1\na_bucket{le=\"+Inf\"} 1\n# EOF\n",
            3,
            9,
            'bounds that rise',
        ];
        yield 'a state that is half on' => ["# TYPE a stateset\na{a=\"x\"} 0.5\n# EOF\n", 2, 12, '0 or 1 for a state'];
        yield 'a state that is no number' => ["# TYPE a stateset\na{a=\"x\"} 1\na{a=\"y\"} NaN\n# EOF\n", 3, 12, '0 or 1'];
        yield 'invalid UTF-8' => ["a 1\nb{c=\"\xFF\"} 1\n# EOF\n", 2, 6, 'UTF-8'];
        yield 'milliseconds with a point' => ["a 1 12.5\n", 1, 5, 'whole milliseconds', Form::Plain004];
        yield 'a page of HTML' => ["<html>\n", 1, 1, 'metric name', Form::Plain004];
    }

    #[DataProvider('badTexts')]
    public function testSaysWhereATextIsWrongAndWhatWasExpected(
        string $text,
        int $line,
        int $column,
        string $expected,
        Form $form = Form::OpenMetrics,
    ): void {
        try {
            TextReader::read($text, $form);
            self::fail('It was read');
        } catch (BadExposition $error) {
            self::assertSame([$line, $column], [$error->lineNumber, $error->column], $error->getMessage());
            self::assertStringContainsString($expected, $error->expected);
        }
    }

    /** @return iterable<string, array{string, Form}> a text without a content type, and the form it has */
    public static function forms(): iterable
    {
        yield 'an end' => ["a 1\n# EOF\n", Form::OpenMetrics];
        yield 'a unit' => ["# UNIT a_bytes bytes\na_bytes 1\n", Form::OpenMetrics];
        yield 'a type that only the newer form has' => ["# TYPE a stateset\n", Form::OpenMetrics];
        yield 'an exemplar' => ["a_total 1 # {} 1\n", Form::OpenMetrics];
        yield 'a counter whose samples alone end in _total' => ["# TYPE a counter\n# HELP a x\na_total 1\n", Form::OpenMetrics];
        yield 'a counter that is called so itself' => ["# TYPE a_total counter\na_total 1\n", Form::Plain004];
        yield 'nothing that tells' => ["# TYPE a gauge\na 1\n", Form::Plain004];
        yield 'a comment that mentions the end' => ["# see # EOF\na 1\n", Form::Plain004];
    }

    #[DataProvider('forms')]
    public function testKnowsTheFormOfAFile(string $text, Form $form): void
    {
        self::assertSame($form, Form::ofText($text));
    }

    /** @return iterable<string, array{Limits, string, string, string}> limits, a text that just keeps them, one that does not, and part of what is said */
    public static function limits(): iterable
    {
        yield 'series' => [new Limits(series: 2), "a 1\nb 1\n", "a 1\nb 1\nc 1\n", 'at most 2 series'];
        yield 'readings' => [new Limits(readings: 2), "a 1 1\na 1 2\n", "a 1 1\na 1 2\na 1 3\n", 'at most 2 readings'];
        yield 'labels' => [new Limits(labels: 1), "a{b=\"1\"} 1\n", "a{b=\"1\",c=\"2\"} 1\n", 'at most 1 labels'];
        yield 'the length of a label' => [new Limits(labelBytes: 3), "a{b=\"123\"} 1\n", "a{b=\"1234\"} 1\n", 'a label value of at most 3 bytes'];
        yield 'the length of a name' => [new Limits(nameBytes: 3), "abc 1\n", "abcd 1\n", '3'];
    }

    #[DataProvider('limits')]
    public function testRefusesMoreThanTheLimits(Limits $limits, string $within, string $beyond, string $words): void
    {
        self::assertNotSame([], TextReader::read($within . "# EOF\n", Form::OpenMetrics, $limits)->samples);
        $this->expectException(BadExposition::class);
        $this->expectExceptionMessage($words);
        TextReader::read($beyond . "# EOF\n", Form::OpenMetrics, $limits);
    }

    public function testASteadyTextGivesTheSameValuesAsReadingItWhole(): void
    {
        mt_srand(11);
        for ($round = 0; $round < 60; ++$round) {
            $shape = [];
            for ($i = mt_rand(1, 40); $i > 0; --$i) {
                $shape[] = sprintf('m%d{host="web-%d",path="/a b"}', $i, mt_rand(1, 3));
            }
            $write = static fn(): string => "# TYPE x gauge\nx 1\n" .
                implode(
                    '',
                    array_map(
                        static fn(string $key): string => $key .
                            ' ' .
                            ['NaN', '+Inf', '-0', (string) mt_rand(), mt_rand() / 997 . 'e-3', '.5'][mt_rand(0, 5)] .
                            "\n",
                        $shape,
                    ),
                ) .
                "# EOF\n";
            $first = $write();
            $layout = Layout::of($first, TextReader::read($first, Form::OpenMetrics));
            self::assertNotNull($layout);
            $next = $write();
            $whole = array_map(static fn(Sample $sample): float => $sample->value, TextReader::read($next, Form::OpenMetrics)->samples);
            $steady = $layout->values($next);
            self::assertNotNull($steady);
            self::assertSame(bin2hex(pack('e*', ...$whole)), bin2hex(pack('e*', ...$steady)));
            self::assertNull($layout->values(str_replace('# EOF', '# EOX', $next)), 'a changed remark is another shape');
            self::assertNull($layout->values(str_replace('x 1', 'x one', $next)), 'a word for a value');
            self::assertNull($layout->values($next . "y 1\n"), 'one line more');
        }
    }

    /** Servers are asked in the middle of counting: then a bucket counts less than the one before. */
    public function testCountsThatFallAreTakenAndSaid(): void
    {
        $text = static fn(
            int $second,
            string $state = '1',
        ): string => "# TYPE a histogram\na_bucket{le=\"0.5\"} 5\na_bucket{le=\"1\"} {$second}\na_bucket{le=\"+Inf\"} 9\na_count 9\n# TYPE b "
            . "stateset\nb{b=\"on\"} {$state}\n# EOF\n";
        $read = TextReader::read($text(7), Form::OpenMetrics);
        self::assertNull($read->fall);
        self::assertSame('counts fall from le="0.5" to le="1" (line 3)', TextReader::read($text(4), Form::OpenMetrics)->fall);
        $layout = Layout::of($text(7), $read);
        self::assertSame(['5', '8', '9', '9', '0'], $layout?->values($text(8, '0')), 'all is well');
        self::assertNull($layout->values($text(4)), 'only a whole reading says where');
        self::assertNull($layout->values($text(7, '2')), 'and refuses what is no state');
        self::assertNull(
            TextReader::read(str_replace('# TYPE b stateset', '# TYPE b gauge', $text(4, '2')), Form::Plain004)->fall,
            'the older form promises nothing',
        );
        $twoTimes =
            "# TYPE a histogram\na_bucket{le=\"1\"} 1 10\na_bucket{le=\"+Inf\"} 1 10\na_bucket{le=\"1\"} 2 20\na_bucket{le=\"+Inf\"} 2 20\n# EOF\n";
        self::assertCount(4, TextReader::read($twoTimes, Form::OpenMetrics)->samples, 'each time has buckets of its own');
    }

    public function testTenThousandMutatedTextsAreReadOrRefusedAndNothingElse(): void
    {
        mt_srand(5);
        $from = microtime(true);
        $refused = 0;
        for ($i = 0; $i < 10_000; ++$i) {
            $text = self::whole();
            for ($n = mt_rand(1, 4); $n > 0; --$n) {
                $at = mt_rand(0, max(0, strlen($text) - 1));
                $text = match (mt_rand(0, 3)) {
                    0 => substr_replace($text, chr(mt_rand(0, 255)), $at, 1),
                    1 => substr_replace($text, '', $at, mt_rand(1, 30)),
                    2 => substr_replace($text, substr($text, mt_rand(0, max(0, strlen($text) - 1)), 25), $at, 0),
                    default => substr($text, 0, max(1, $at)),
                };
            }
            try {
                $form = mt_rand(0, 1) === 0 ? Form::OpenMetrics : Form::Plain004;
                $read = TextReader::read($text, $form);
                $values = Layout::of($text, $read)?->values($text);
                self::assertTrue($values === null || count($values) === count($read->samples));
            } catch (BadExposition $error) {
                ++$refused;
                self::assertGreaterThan(0, $error->lineNumber);
                self::assertTrue(mb_check_encoding($error->getMessage(), 'UTF-8'));
            }
        }
        self::assertGreaterThan(1_000, $refused);
        self::assertLessThan(60.0, microtime(true) - $from);
    }

    public function testWhatTheWriterWritesIsReadBack(): void
    {
        $text = (new TextWriter())
            ->family('jobs', MetricType::Counter, '', "Jobs \"done\"\nso far", [[['queue' => 'a"\\b'], 12]])
            ->family('memory_bytes', MetricType::Gauge, 'bytes', 'Memory', [[[], 1.5e9], [['part' => 'web'], NAN]])
            ->text();
        $read = TextReader::read($text, Form::OpenMetrics);
        self::assertSame("Jobs \"done\"\nso far", $read->families['jobs']->help);
        self::assertSame([12.0, 1.5e9], [$read->samples[0]->value, $read->samples[1]->value]);
        self::assertSame('a"\\b', $read->samples[0]->labels->get('queue'));
    }

    private static function whole(): string
    {
        return self::WHOLE;
    }
}

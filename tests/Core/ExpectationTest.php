<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\App\Collect\Check\ReadDocuments;
use Olivine\Core\Check\Expect\BadExpectation;
use Olivine\Core\Check\Expect\DocumentKind;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Expect\NoDocument;
use Olivine\Core\Check\Http\HttpAnswer;
use Olivine\Core\Check\Http\NamedValue;
use Olivine\Core\Check\Http\Taken;
use Olivine\Core\Exposition\MetricType;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** What people expect of an answer, and what they take from it. */
final class ExpectationTest extends TestCase
{
    private const JSON = '{"status": "degraded", "queue": {"depth": 4210, "names": ["boarding", "crew"]}, "open": true, "a/b": null, "id": "7"}';
    private const HTML = '<html><body><h1>Tide at Skarn</h1><table><tr><td id="height">2,410.5 mm</td><td>low</td></tr></table></body></html>';

    /** @return iterable<string, array{string, string, int, list<non-empty-string>}> what is expected, of which text, with which status, what is missing */
    public static function cases(): iterable
    {
        yield 'nothing said: success' => ['', 'x', 204, []];
        yield 'nothing said, no success' => ['', 'x', 503, ['it answered with status 503 (expected status in 200..299)']];
        yield 'a status said is the one that counts' => ['status in (301, 400..404)', 'x', 404, []];
        yield 'a status alone' => ['status 200', 'x', 201, ['it answered with status 201 (expected status 200)']];
        yield 'words' => ['"Book now"', 'You may Book now!', 200, []];
        yield 'words are letter for letter' => ['"book now"', 'Book now', 200, ['the words “book now” are not in the answer (expected "book now")']];
        yield 'words that must not be there' => ['not "sold out"', 'sold out', 200, ['the words “sold out” are in the answer (expected not "sold out")']];
        yield 'a quote within words' => ['"say \"ahoy\""', 'say "ahoy"', 200, []];
        yield 'in any combination' => ['"a" and ("b" or "c") and not ("d" or "e")', 'a c', 200, []];
        yield 'and binds more tightly than or' => ['"x" and "y" or "a"', 'a', 200, []];
        yield 'each that is missing is told' => [
            '"a" and "b" and "c"',
            'b',
            200,
            ['the words “a” are not in the answer (expected "a")', 'the words “c” are not in the answer (expected "c")'],
        ];
        yield 'a number at a pointer' => ['json /queue/depth < 100', self::JSON, 200, ['/queue/depth is 4210 (expected json /queue/depth < 100)']];
        yield 'a text at a pointer' => ['json /status = "ok"', self::JSON, 200, ['/status is “degraded” (expected json /status = "ok")']];
        yield 'a number written as a text' => ['json /id = 7', self::JSON, 200, []];
        yield 'true is true' => ['json /open = true', self::JSON, 200, []];
        yield 'a slash in a name' => ['json /a~1b = null', self::JSON, 200, []];
        yield 'in a list' => ['json /queue/names/1 = "crew"', self::JSON, 200, []];
        yield 'nothing there' => ['json /queue/lag > 1', self::JSON, 200, ['there is nothing at /queue/lag (expected json /queue/lag > 1)']];
        yield 'nothing there is not unequal either' => ['json /lag != 1', self::JSON, 200, ['there is nothing at /lag (expected json /lag != 1)']];
        yield 'that something is there' => ['json /open and not json /closed', self::JSON, 200, []];
        yield 'an object has no value' => ['json /queue = 1', self::JSON, 200, ['at /queue stands a list or an object, no single value']];
        yield 'a path, any of several' => ['json "$.queue.names[*]" starts "cr"', self::JSON, 200, []];
        yield 'a path that cannot be read' => [
            'json $..[',
            self::JSON,
            200,
            ['the place $..[ cannot be read: '],
        ];
        yield 'no JSON at all' => ['json /a', 'Bad gateway', 200, ['the answer is no JSON: Syntax error (expected json /a)']];
        yield 'in XML' => ['xml //fare/@price <= 12.5', '<fares><fare price="12.50"/></fares>', 200, []];
        yield 'no XML' => ['xml //a', 'no', 200, ['the answer is no XML (expected xml //a)']];
        yield 'in HTML' => ['html "//h1" has "Skarn"', self::HTML, 200, []];
        $info = "# Memory\r\nused_memory_peak:900\r\nused_memory:512\r\nrole:master\r\n";
        yield 'in plain text' => ['text "used_memory:*" < 600 and text "role:*" = "master"', $info, 200, []];
        yield 'not within another word' => ['text "memory:*"', $info, 200, ['there is nothing at memory:* (expected text "memory:*")']];
        yield 'blanks are as long as they like' => ['text "Active connections: *" = 43', "Active   connections:\n  43 ", 200, []];
        yield 'words that are passed over' => ['text "handled requests ? ? *" = 31', "server accepts handled requests\n 16 16 31 \n", 200, []];
        yield 'words behind it' => ['text "* idle" = 7', 'processes: 3 busy, 7 idle', 200, []];
        yield 'a header' => ['header content-type has "json" and not header x-powered-by', '{}', 200, []];
        yield 'a header that is not there' => ['header x-tide = 1', '', 200, ['there is no header x-tide (expected header x-tide = 1)']];
    }

    /** @param list<non-empty-string> $missing */
    #[DataProvider('cases')]
    public function testWhatIsMissingIsSaidWithWhatWasExpected(string $expected, string $text, int $status, array $missing): void
    {
        $found = Expectation::of($expected)->missing(self::answer($text, $status));
        self::assertCount(count($missing), $found, implode(' | ', $found));
        foreach ($missing as $i => $words) {
            self::assertStringStartsWith($words, $found[$i]);
        }
    }

    /** @return iterable<string, array{string, string, int}> what cannot be read, in which words, from which byte on */
    public static function faults(): iterable
    {
        yield 'no end of the words' => ['"a', 'no closing "', 0];
        yield 'nothing between' => ['"a" and ""', 'no words between', 8];
        yield 'no end of a bracket' => ['("a"', 'It ends, where )', 4];
        yield 'nothing behind and' => ['"a" and', 'It ends, where "words"', 7];
        yield 'two beside each other' => ['"a" "b"', 'Here stands b, where and', 4];
        yield 'no status' => ['status ok', 'a status such as 200', 7];
        yield 'no place' => ['json < 4', 'a place such as /queue/depth', 5];
        yield 'nothing to compare with' => ['json /a <', 'a number, "words"', 9];
        yield 'text without a star' => ['text "used_memory:"', 'one star where the value stands', 5];
        yield 'text with nothing but a star' => ['text "*"', 'one star where the value stands', 5];
        yield 'a foreign sign' => ['§', 'begins with §', 0];
        yield 'no UTF-8' => ["\"\xff\"", 'not valid UTF-8', 0];
        yield 'too long' => [str_repeat('a', 3_000), 'at most 2000 bytes', 2_000];
        yield 'too deep' => [str_repeat('(', 50) . '"a"' . str_repeat(')', 50), '12 brackets deep', 13];
        yield 'too many' => [implode(' and ', array_fill(0, 60, '"a"')), 'At most 40 things', 320];
    }

    #[DataProvider('faults')]
    public function testWhatCannotBeReadIsToldWithItsPlace(string $expected, string $words, int $at): void
    {
        try {
            Expectation::of($expected);
            self::fail('It was read');
        } catch (BadExpectation $error) {
            self::assertStringContainsString($words, $error->getMessage());
            self::assertSame($at, $error->at);
        }
    }

    /** Whatever is put together is read, or refused in our own words; and looked for in whatever an answer holds. */
    /** Whoever sends nothing but what might begin a value, takes no time for it. */
    public function testNoTextTakesLongToLookThrough(): void
    {
        foreach ([':*', '* idle', 'a ? ? *', 'x*y'] as $path) {
            foreach ([':', 'a ', 'x', ' ', 'a ? '] as $part) {
                $from = microtime(true);
                (new DocumentPlace(DocumentKind::Text, $path))->foundIn(str_repeat($part, 400_000));
                self::assertLessThan(10, microtime(true) - $from, "{$path} in {$part}…");
            }
        }
    }

    public function testAnythingIsReadOrRefused(): void
    {
        $random = new Randomizer(new Mt19937(28_11));
        $words = ['"a"', 'json', '/a', '$.a', '$..*', '$[?(@.a', 'xml', '//a', 'html', 'header', 'x', 'status', '200', '200..299', 'in', '(', ')', ',',
            'and', 'or', 'not', '=', '<', '-1', '1e9', 'true', '"', '\\', 'has', "\0", 'é', '"//a[count(//*) > 1]"'];
        $outside = '<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/passwd">]><a>&x;</a>';
        $texts = [self::JSON, self::HTML, '', '[[[[', '<a><b>', $outside, "\xff\xfe", str_repeat('[', 5_000)];
        $read = 0;
        for ($run = 0; $run < 20_000; ++$run) {
            $picked = array_map(static fn(): string => $words[$random->getInt(0, count($words) - 1)], range(1, $random->getInt(1, 9)));
            try {
                $expectation = Expectation::of(implode(' ', $picked));
            } catch (BadExpectation) {
                continue;
            }
            ++$read;
            foreach ($texts as $text) {
                self::assertStringNotContainsString('root:', implode('', $expectation->missing(self::answer($text))), 'no file is read');
            }
        }
        self::assertGreaterThan(100, $read);
    }

    /** @return iterable<string, array{string, float|null}> */
    public static function numbers(): iterable
    {
        yield 'as it is' => ['42', 42.0];
        yield 'with thousands' => ['2,410 berths free', 2410.0];
        yield 'with thin spaces' => ["1 234 567 passengers", 1234567.0];
        yield 'with a point' => ['height 2.75 m', 2.75];
        yield 'below zero' => ['−3.5 °C', -3.5];
        yield 'the first of several' => ['7 of 12', 7.0];
        yield 'exponents as machines write them' => ['1.5e3', 1500.0];
        yield 'no number' => ['none', null];
        yield 'part of a name' => ['web1', null];
    }

    #[DataProvider('numbers')]
    public function testNumbersAreReadAsPeopleWriteThem(string $text, ?float $number): void
    {
        self::assertSame($number, NamedValue::number($text));
    }

    public function testWhatIsTakenAndWhatBecomesAMetric(): void
    {
        $answer = self::answer(self::HTML);
        $height = new NamedValue('tide_height', new DocumentPlace(DocumentKind::Html, '//td[@id="height"]'), MetricType::Gauge, 'mm');
        $reading = $height->from($answer, ['step' => 'tide']);
        self::assertSame([2410.5, ['step' => 'tide']], [$reading?->value, $reading?->labels]);
        $token = new Taken('token', new DocumentPlace(DocumentKind::Json, '/queue/names/0'));
        self::assertSame(['boarding', null], [$token->from(self::answer(self::JSON)), $token->from($answer)]);
        self::assertSame('application/json', (new Taken('kind', 'Content-Type'))->from($answer));
        self::assertNull((new Taken('line', new DocumentPlace(DocumentKind::Json, '/a')))->from(self::answer('{"a": "two\nlines"}')), 'no line can be broken');
        $this->expectException(NoDocument::class);
        (new ReadDocuments())->at('{"a": [1]}', new DocumentPlace(DocumentKind::Json, '/a'));
    }

    private static function answer(string $text, int $status = 200): HttpAnswer
    {
        return new HttpAnswer($status, 'HTTP/1.1', [['content-type', 'application/json']], $text, new ReadDocuments());
    }
}

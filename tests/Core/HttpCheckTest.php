<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\App\Collect\Check\ReadDocuments;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Expect\DocumentKind;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Http\HttpAnswer;
use Olivine\Core\Check\Http\HttpCheck;
use Olivine\Core\Check\Http\HttpExchange;
use Olivine\Core\Check\Http\HttpStep;
use Olivine\Core\Check\Http\NamedValue;
use Olivine\Core\Check\Http\Taken;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Tls\Certificate;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Exposition\MetricType;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What an exchange with a server comes to. */
final class HttpCheckTest extends TestCase
{
    private const NOW_MS = 1_764_000_000_000;

    /**
     * Answers by status, or why there is none; what is expected of each; verdict, words, whether another step follows.
     *
     * @return iterable<string, array{list<int|string>, string, Verdict, string, bool}>
     */
    public static function exchanges(): iterable
    {
        yield 'answered as expected' => [[200], '', Verdict::Runs, '', true];
        yield 'no connection' => [['Nothing listens'], '', Verdict::Down, 'Step shop: Nothing listens', false];
        yield 'the server says that it cannot' => [[503], '', Verdict::Down, 'Step shop: It answered with status 503 (expected status in 200..299)', false];
        yield 'a page that is not there' => [[404], '', Verdict::Partly, 'Step shop: It answered with status 404 (expected status in 200..299)', false];
        yield 'words that are not there' => [[200], '"Book"', Verdict::Partly, 'Step shop: The words “Book” are not in the answer (expected "Book")', false];
        yield 'a login is needed' => [[401], '', Verdict::Partly, 'Step shop: It needs a login that may read this: it answered with status 401', false];
        yield 'a login that is expected to be refused' => [[401], 'status 401', Verdict::Runs, '', true];
        yield 'a later step gets no answer' => [[200, 'No answer within 5 s'], '', Verdict::Partly, 'Step login: No answer within 5 s', false];
        $failed = 'Step login: It answered with status 500 (expected status in 200..299)';
        yield 'a later step is an error of the server' => [[200, 500], '', Verdict::Partly, $failed, false];
        yield 'all steps' => [[200, 302], 'status 200..399', Verdict::Runs, '', false];
        yield 'our own fault' => [['ours: The address leads to 10.0.0.1'], '', Verdict::Unknown, 'Step shop: The address leads to 10.0.0.1', false];
    }

    /** @param list<int|string> $answers */
    #[DataProvider('exchanges')]
    public function testHowItStands(array $answers, string $expects, Verdict $verdict, string $words, bool $goesOn): void
    {
        $check = new HttpCheck([self::step('shop', $expects), self::step('login', $expects)]);
        $exchanges = [];
        foreach ($answers as $i => $answer) {
            $exchanges[] = self::exchange($check->steps[$i], $answer);
        }
        $judgement = $check->judge(self::NOW_MS, ...$exchanges);
        self::assertSame([$verdict, $words], [$judgement->verdict, $judgement->words]);
        self::assertSame($goesOn, $check->next([], ...$exchanges) !== null);
        $up = self::value($judgement->readings, 'check_runs');
        self::assertSame(['runs' => 1.0, 'partly' => 1.0, 'down' => 0.0, 'unknown' => null][$verdict->value], $up, 'what nobody knows is no reading');
    }

    public function testItsReadings(): void
    {
        $step = new HttpStep('', 'GET', 'https://shop/', [], '', true, 5_000, Expectation::of(''), values: [
            new NamedValue('berths_free', new DocumentPlace(DocumentKind::Json, '/free'), MetricType::Gauge, ''),
        ]);
        $phases = Phases::ofPoints(0.024, 0.007, 0.036, 0.236, 0.280);
        self::assertEqualsWithDelta(['name' => 0.024, 'connect' => 0.007, 'tls' => 0.029, 'wait' => 0.200, 'transfer' => 0.044], $phases->named(), 1e-9);
        $answer = self::answer(200, '{"free": 12}', self::NOW_MS + 86_400_000);
        $judgement = (new HttpCheck([$step], 250))->judge(self::NOW_MS, new HttpExchange($step, $phases, $answer));
        $named = [];
        foreach ($judgement->readings as $reading) {
            $named[$reading->metric . implode('', $reading->labels)] = round($reading->value, 6);
        }
        self::assertSame(
            ['check_runs' => 1.0, 'check_partly' => 0.0, 'check_duration_seconds' => 0.304, 'check_slow' => 1.0, 'check_phase_secondsname' => 0.024,
                'check_phase_secondsconnect' => 0.007, 'check_phase_secondstls' => 0.029, 'check_phase_secondswait' => 0.2,
                'check_phase_secondstransfer' => 0.044, 'check_status_code' => 200.0, 'check_answer_bytes' => 12.0,
                'check_certificate_left_seconds' => 86_400.0, 'berths_free' => 12.0,
                'certificate_end_timestamp_secondsshopharbourshop.example' => (float) (self::NOW_MS / 1000 + 86_400)],
            $named,
        );
        self::assertSame([Verdict::Runs, 'It took 304 ms, more than the 250 ms it is given'], [$judgement->verdict, $judgement->words]);
        $without = (new HttpCheck([$step]))->judge(self::NOW_MS, new HttpExchange($step, $phases, self::answer(200, '{}')));
        self::assertSame([Verdict::Partly, 'There was no number for berths_free at /free'], [$without->verdict, $without->words]);
    }

    /** What one answer brings goes into the next request; in an address it is escaped, and an address as a whole is one. */
    public function testWhatIsTakenIsFilledIn(): void
    {
        $first = new HttpStep('a', 'GET', 'http://shop/', [], '', true, 5_000, Expectation::of(''), [
            new Taken('token', new DocumentPlace(DocumentKind::Json, '/token')),
            new Taken('onward', 'location'),
        ]);
        $body = '{"t": "{token}", "u": {unknown}}';
        $headers = ['X-Token' => '{token} {password}'];
        $second = new HttpStep('b', 'POST', 'http://shop/basket?of={token}', $headers, $body, true, 5_000, Expectation::of(''));
        $third = new HttpStep('c', 'GET', '{onward}', [], '', true, 5_000, Expectation::of(''));
        $check = new HttpCheck([$first, $second, $third]);
        $answer = new HttpAnswer(200, 'HTTP/1.1', [['Location', 'http://shop/next?a=1']], '{"token": "a b&c"}', new ReadDocuments());
        $exchange = new HttpExchange($first, new Phases(), $answer);
        $known = ['password' => 'salt', ...HttpCheck::taken($exchange)];
        $asked = $check->next($known, $exchange);
        self::assertSame('http://shop/basket?of=a%20b%26c', $asked?->url);
        self::assertSame([['X-Token' => 'a b&c salt'], '{"t": "a b&c", "u": {unknown}}'], [$asked->headers, $asked->body]);
        self::assertSame('http://shop/next?a=1', $check->next($known, $exchange, self::exchange($second, 200))?->url);
        self::assertSame(['token', 'unknown', 'password'], $second->holes());

        $nothing = new HttpExchange($first, new Phases(), self::answer(200, '{"token": ""}'));
        self::assertNull($check->next([], $nothing));
        self::assertSame(
            'Step a: There was nothing to take as token from /token; There was nothing to take as onward from the header location',
            $check->judge(self::NOW_MS, $nothing)->words,
        );
    }

    private static function step(string $name, string $expects): HttpStep
    {
        return new HttpStep($name, 'GET', "http://shop/{$name}", [], '', true, 5_000, Expectation::of($expects));
    }

    private static function exchange(HttpStep $step, int|string $answer): HttpExchange
    {
        $isOurs = is_string($answer) && str_starts_with($answer, 'ours: ');

        return is_int($answer)
            ? new HttpExchange($step, new Phases(wait: 0.1), self::answer($answer, '{}'))
            : new HttpExchange($step, new Phases(), null, substr($answer, $isOurs ? 6 : 0), $isOurs);
    }

    private static function answer(int $status, string $body, ?int $certificateEnds = null): HttpAnswer
    {
        $chain = $certificateEnds === null ? [] : [new Certificate('shop', 'harbour', ['shop.example'], 0, $certificateEnds, 'RSA', 2_048, 'RSA-SHA256')];

        return new HttpAnswer($status, 'HTTP/1.1', [], $body, new ReadDocuments(), chain: $chain);
    }

    /** @param list<CheckReading> $readings */
    private static function value(array $readings, string $metric): ?float
    {
        return array_find($readings, static fn(CheckReading $one): bool => $one->metric === $metric)?->value;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Dns\DnsAnswer;
use Olivine\Core\Check\Dns\DnsCheck;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Ping\PingCheck;
use Olivine\Core\Check\Ping\PingExchange;
use Olivine\Core\Check\Tcp\TcpCheck;
use Olivine\Core\Check\Tcp\TcpExchange;
use Olivine\Core\Check\Tls\Certificate;
use Olivine\Core\Check\Tls\TlsCheck;
use Olivine\Core\Check\Tls\TlsExchange;
use Olivine\Core\Check\Verdict;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What comes of asking ports, certificates and name servers. */
final class OtherChecksTest extends TestCase
{
    private const NOW_MS = 1_764_000_000_000;
    private const DAY_MS = 86_400_000;

    /** @return iterable<string, array{string, TcpExchange, Verdict, string}> */
    public static function ports(): iterable
    {
        $phases = new Phases(connect: 0.02);
        yield 'a connection is enough' => ['', new TcpExchange($phases, ''), Verdict::Runs, ''];
        yield 'the greeting is there' => ['"220 "', new TcpExchange($phases, '220 mail'), Verdict::Runs, ''];
        yield 'another greeting' => ['"220 "', new TcpExchange($phases, '554 no'), Verdict::Partly, 'The words “220 ” are not in the answer (expected "220 ")'];
        yield 'nobody listens' => ['', new TcpExchange(new Phases(), '', 'Nothing listens', false, false), Verdict::Down, 'Nothing listens'];
        yield 'may not be asked' => ['', new TcpExchange(new Phases(), '', 'never asks', true, false), Verdict::Unknown, 'never asks'];
        yield 'slow' => ['', new TcpExchange(new Phases(connect: 0.8), ''), Verdict::Runs, 'It took 800 ms, more than the 500 ms it is given'];
    }

    #[DataProvider('ports')]
    public function testPorts(string $expects, TcpExchange $exchange, Verdict $verdict, string $words): void
    {
        $check = new TcpCheck('mail-1', 25, '', Expectation::of($expects, false), $expects !== '', 5_000, 500);
        $this->holds($verdict, $words, $check->judge($exchange));
    }

    /** @return iterable<string, array{string, string, bool}> */
    public static function hosts(): iterable
    {
        yield 'the same' => ['shop.example', 'SHOP.example.', true];
        yield 'a star is one label' => ['*.shop.example', 'a.shop.example', true];
        yield 'a star is not none' => ['*.shop.example', 'shop.example', false];
        yield 'a star is not two' => ['*.shop.example', 'a.b.shop.example', false];
        yield 'a star within a label is none' => ['a*.shop.example', 'ab.shop.example', false];
        yield 'an address' => ['192.0.2.7', '192.0.2.7', true];
        yield 'a star is for no address' => ['*.0.2.7', '192.0.2.7', false];
    }

    #[DataProvider('hosts')]
    public function testWhomACertificateIsFor(string $name, string $host, bool $is): void
    {
        self::assertSame($is, self::certificate(names: [$name])->isFor($host));
    }

    /** @return iterable<string, array{list<Certificate>, bool|null, Verdict, string, float}> the chain, whether it is trusted, verdict, words, days left */
    public static function chains(): iterable
    {
        $root = self::certificate('Root', 'Root', until: 900);
        yield 'well' => [[self::certificate(), $root], true, Verdict::Runs, '', 40.0];
        yield 'ended' => [[self::certificate(until: -3)], true, Verdict::Partly, 'The certificate: it ended 3 days ago', -3.0];
        yield 'what vouches for it ends first' => [[self::certificate(), self::certificate('Harbour', 'Root', until: 10)], true, Verdict::Runs, '', 10.0];
        yield 'not valid yet' => [[self::certificate(from: 2)], true, Verdict::Partly, 'The certificate: it is not valid yet, for 2 more days', 40.0];
        yield 'for another name' => [
            [self::certificate(names: ['*.tide.example'])], true, Verdict::Partly, 'The certificate: it is for *.tide.example, not for shop.example', 40.0,
        ];
        yield 'weak' => [[self::certificate(bits: 1_024)], true, Verdict::Partly, 'The certificate: its RSA key has 1024 bits, fewer than 2048', 40.0];
        yield 'forged easily' => [
            [self::certificate(signed: 'RSA-SHA1')], true, Verdict::Partly, 'The certificate: it is signed with RSA-SHA1, which can be forged', 40.0,
        ];
        yield 'by itself' => [
            [self::certificate('A', 'A')], false, Verdict::Partly, 'The certificate: it is signed by itself, so nobody vouches for it', 40.0,
        ];
        yield 'nobody can tell' => [[self::certificate()], null, Verdict::Runs, '', 40.0];
    }

    /** @param list<Certificate> $chain */
    #[DataProvider('chains')]
    public function testCertificates(array $chain, ?bool $isTrusted, Verdict $verdict, string $words, float $days): void
    {
        $check = new TlsCheck('shop.example', 443, 'shop.example', 5_000);
        $judgement = $check->judge(new TlsExchange(new Phases(tls: 0.1), $chain, $isTrusted), self::NOW_MS);
        $this->holds($verdict, $words, $judgement);
        $left = array_find($judgement->readings, static fn(CheckReading $one): bool => $one->metric === 'check_certificate_left_seconds');
        self::assertSame($days, ($left->value ?? 0.0) / 86_400);
        $none = $check->judge(new TlsExchange(new Phases(), [], null, '', 'No agreement on TLS within 5 s'), self::NOW_MS);
        $this->holds(Verdict::Down, 'No agreement on TLS within 5 s', $none);
    }

    /** @return iterable<string, array{string, list<string>, list<DnsAnswer>, Verdict, string}> type, expected, answers, verdict, words */
    public static function names(): iterable
    {
        $says = static fn(string $server, string ...$records): DnsAnswer => new DnsAnswer($server, 0.02, array_values($records));
        $silent = new DnsAnswer('ns2', 5.0, [], 'no answer within 5 s');
        $both = [$says('ns1', '192.0.2.1', '192.0.2.2'), $says('ns2', '192.0.2.2', '192.0.2.1')];
        yield 'all say the same, in whatever order' => ['A', [], $both, Verdict::Runs, ''];
        yield 'one is silent' => ['A', [], [$says('ns1', '192.0.2.1'), $silent], Verdict::Partly, 'ns2: no answer within 5 s'];
        yield 'all are silent' => ['A', [], [$silent], Verdict::Down, 'ns2: no answer within 5 s'];
        yield 'no such name' => ['A', [], [$says('ns1')], Verdict::Down, 'ns1 knows no A of shop.example'];
        yield 'they do not agree' => [
            'A', [], [$says('ns1', '192.0.2.1'), $says('ns2', '192.0.2.9')], Verdict::Partly,
            'They do not agree: 192.0.2.1 (ns1), 192.0.2.9 (ns2)',
        ];
        yield 'as expected, without case and last dot' => ['CNAME', ['Web.Example.'], [$says('ns1', 'web.example')], Verdict::Runs, ''];
        yield 'not as expected' => ['A', ['192.0.2.7'], [$says('ns1', '192.0.2.1')], Verdict::Partly, 'ns1 says 192.0.2.1, where 192.0.2.7 is expected'];
        yield 'serials that differ' => [
            'SOA', [], [$says('ns1', 'a. b. 2026112801 1 1 1 1'), $says('ns2', 'a. b. 2026112702 1 1 1 1')], Verdict::Partly,
            'Their serials differ: 2026112801 (ns1), 2026112702 (ns2)',
        ];
        yield 'may not be asked' => ['A', [], [new DnsAnswer('10.0.0.1', 0.0, [], 'private network', true)], Verdict::Unknown, '10.0.0.1: private network'];
    }

    /**
     * @param list<string>    $expects
     * @param list<DnsAnswer> $answers
     */
    #[DataProvider('names')]
    public function testNameServers(string $type, array $expects, array $answers, Verdict $verdict, string $words): void
    {
        $this->holds($verdict, $words, (new DnsCheck('shop.example', $type, [], $expects, 5_000))->judge(...$answers));
    }

    /** @return iterable<string, array{PingExchange, Verdict, string, float|null, float|null}> echoes, verdict, words, jitter in ms, score */
    public static function echoes(): iterable
    {
        yield 'as it should be' => [new PingExchange([0.020, 0.026, 0.022]), Verdict::Runs, '', 5.0, 4.41];
        yield 'one of five may be lost' => [new PingExchange([0.02, null, 0.02, 0.02, 0.02]), Verdict::Runs, '', 0.0, 2.63];
        yield 'two of five may not' => [new PingExchange([0.02, null, null, 0.02, 0.02]), Verdict::Partly, '40 % of 5 echoes were lost', 0.0, 1.82];
        yield 'all lost' => [new PingExchange([null, null]), Verdict::Down, 'None of 2 echoes came back', null, null];
        yield 'slow' => [new PingExchange([0.6]), Verdict::Runs, 'It took 600 ms, more than the 500 ms it is given', 0.0, 3.96];
        yield 'may not be sent' => [new PingExchange([], 'There is no ping', true), Verdict::Unknown, 'There is no ping', null, null];
    }

    #[DataProvider('echoes')]
    public function testEchoes(PingExchange $exchange, Verdict $verdict, string $words, ?float $jitterMs, ?float $score): void
    {
        $judgement = (new PingCheck('skarn-uplink', 5, 0.2, 0.2, 5_000, 500))->judge($exchange);
        $this->holds($verdict, $words, $judgement);
        $value = static fn(string $metric): ?float => array_find(
            $judgement->readings,
            static fn(CheckReading $one): bool => $one->metric === $metric,
        )?->value;
        $jitterMs === null
            ? self::assertNull($value('check_jitter_seconds'))
            : self::assertEqualsWithDelta($jitterMs / 1000, $value('check_jitter_seconds'), 1e-9);
        $score === null ? self::assertNull($value('check_voice_score')) : self::assertEqualsWithDelta($score, $value('check_voice_score'), 0.01);
    }

    private function holds(Verdict $verdict, string $words, Judgement $judgement): void
    {
        self::assertSame([$verdict, $words], [$judgement->verdict, $judgement->words]);
        $up = array_find($judgement->readings, static fn(CheckReading $one): bool => $one->metric === 'check_runs')?->value;
        self::assertSame(match ($verdict) {
            Verdict::Unknown => null,
            Verdict::Down => 0.0,
            default => 1.0,
        }, $up);
    }

    /** @param list<string> $names */
    private static function certificate(
        string $subject = 'shop.example',
        string $issuer = 'Harbour',
        array $names = ['shop.example'],
        int $from = -10,
        int $until = 40,
        int $bits = 2_048,
        string $signed = 'RSA-SHA256',
    ): Certificate {
        $at = static fn(int $days): int => self::NOW_MS + $days * self::DAY_MS;

        return new Certificate($subject, $issuer, $names, $at($from), $at($until), 'RSA', $bits, $signed);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Check\CheckAsks;
use Olivine\App\Collect\Check\SocketAsker;
use Olivine\App\Collect\Check\SocketRun;
use Olivine\App\Collect\Definition\AskFields;
use Olivine\App\Collect\Definition\DnsFields;
use Olivine\App\Collect\Definition\PingFields;
use Olivine\App\Collect\Definition\RecordType;
use Olivine\App\Collect\Definition\TcpFields;
use Olivine\App\Collect\Definition\TlsFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Process\Process;

/** Ports, certificates and name servers: real ones, and ones that do what they must not. */
final class SocketAskerTest extends TestCase
{
    private string $folder;
    /** @var list<Process> */
    private array $processes = [];

    protected function setUp(): void
    {
        Instance::kernel();
        $this->folder = sys_get_temp_dir() . '/olivine-sockets-' . bin2hex(random_bytes(4));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        array_map(static fn(Process $one): ?int => $one->stop(0, SIGKILL), $this->processes);
        (new Filesystem())->remove($this->folder);
    }

    public function testPortsCertificatesAndNameServers(): void
    {
        $hostile = $this->hostile();
        // Takes connections, and never says a word.
        $silent = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($silent);
        $mute = (int) parse_url('tcp://' . stream_socket_get_name($silent, false), PHP_URL_PORT);
        $database = (int) parse_url((string) $_SERVER['DATABASE_URL'], PHP_URL_PORT);
        [$dns, $other] = [$this->dns('192.0.2.10', 'shop'), $this->dns('192.0.2.99', 'shop')];
        $good = $this->tls(['-days', '40', '-newkey', 'rsa:2048', '-addext', 'subjectAltName=DNS:shop.saltmarsh.example']);
        $weak = $this->tls(['-days', '3', '-newkey', 'rsa:1024', '-addext', 'subjectAltName=DNS:*.tide.example']);
        $name = 'shop.saltmarsh.example';
        $patience = 2.0;
        // Where nobody may send echoes, that is said.
        $mayPing = (new Process(['ping', '-n', '-c', '1', '-W', '2', '127.0.0.1']))->run() === 0;
        $echo = $mayPing ? [Verdict::Runs, '~^$~'] : [Verdict::Unknown, '~No ping could be sent|no ping on this machine~'];
        /** @var array<string, array{AskFields, Verdict, string}> $cases */
        $cases = [
            'the database greets' => [new TcpFields('127.0.0.1', $database, expects: '"MariaDB"'), Verdict::Runs, '~^$~'],
            'a connection is enough' => [new TcpFields('localhost', $database), Verdict::Runs, '~^$~'],
            'something else than the database' => [new TcpFields('127.0.0.1', $database, expects: '"220 "', patienceSeconds: 1.0), Verdict::Partly, '~“220 ”~'],
            'asked and answered' => [new TcpFields('127.0.0.1', $hostile, 'GET /speaks-otherwise HTTP/1.0\r\n\r\n', '"ESMTP"'), Verdict::Runs, '~^$~'],
            'hangs' => [new TcpFields('127.0.0.1', $hostile, 'GET /hangs HTTP/1.0\r\n\r\n', '"a"', 1.0), Verdict::Partly, '~“a”~'],
            'endless' => [new TcpFields('127.0.0.1', $hostile, 'GET /endless HTTP/1.0\r\n\r\n', '"never"', 2.0), Verdict::Partly, '~“never”~'],
            'nobody there' => [new TcpFields('127.0.0.1', 9), Verdict::Down, '~connection refused~'],
            'a name that is none' => [new TcpFields('nobody.invalid', 25, patienceSeconds: 3.0), Verdict::Down, '~name of the host~'],
            'a cloud tells its machines' => [new TcpFields('169.254.169.254', 80), Verdict::Unknown, '~never asks~'],
            'its own' => [new TlsFields('127.0.0.1', $good, $name, true), Verdict::Runs, '~^$~'],
            'nobody vouches' => [new TlsFields('127.0.0.1', $good, $name), Verdict::Partly, '~signed by itself~'],
            'weak and for another' => [new TlsFields('127.0.0.1', $weak, $name, true), Verdict::Partly, '~1024 bits.*\*\.tide\.example, not for shop~'],
            'never agrees on TLS' => [new TlsFields('127.0.0.1', $mute, patienceSeconds: 1.0), Verdict::Down, '~^No agreement on TLS within 1 s$~'],
            'never says a word' => [new TcpFields('127.0.0.1', $mute, 'ahoy', '"ahoy"', 1.0), Verdict::Partly, '~“ahoy”~'],
            'no TLS' => [new TlsFields('127.0.0.1', $database, patienceSeconds: $patience), Verdict::Down, '~TLS|secure|closed~'],
            'a name' => [new DnsFields($name, RecordType::A, ["127.0.0.1:{$dns}"], ['192.0.2.10']), Verdict::Runs, '~^$~'],
            'not what is expected' => [new DnsFields($name, RecordType::A, ["127.0.0.1:{$dns}"], ['192.0.2.11']), Verdict::Partly, '~192.0.2.11 is expected~'],
            'they do not agree' => [new DnsFields($name, RecordType::A, ["127.0.0.1:{$dns}", "127.0.0.1:{$other}"]), Verdict::Partly, '~do not agree~'],
            'text' => [new DnsFields($name, RecordType::Txt, ["127.0.0.1:{$dns}"], ['the tide is high']), Verdict::Runs, '~^$~'],
            'no such name' => [new DnsFields("no.{$name}", RecordType::A, ["127.0.0.1:{$dns}"]), Verdict::Down, '~knows no A~'],
            'an echo' => [new PingFields('localhost', 3), ...$echo],
            'an echo of a name that is none' => [new PingFields('nobody.invalid', 2, patienceSeconds: 2.0), Verdict::Down, '~name of the host~'],
            'an echo of a cloud' => [new PingFields('169.254.169.254', 2), Verdict::Unknown, '~never asks~'],
            'no name server' => [
                new DnsFields($name, RecordType::A, ['127.0.0.1:9'], patienceSeconds: 1.0),
                Verdict::Down,
                '~no answer within|refused|closed|unable~i',
            ],
        ];
        $runs = $this->runs('loopback', array_column($cases, 0));
        foreach (array_values($cases) as $i => [, $verdict, $words]) {
            $case = array_keys($cases)[$i];
            $judgement = $runs[$i]->judged();
            self::assertSame($verdict, $judgement->verdict, "{$case}: {$judgement->words}");
            self::assertMatchesRegularExpression($words, $judgement->words, $case);
            self::assertDoesNotMatchRegularExpression('~Exception|\.php|stream_socket~i', $judgement->words, $case);
            self::assertLessThanOrEqual(66_000, strlen($runs[$i]->lastAnswer()), $case);
        }
        fclose($silent);
        $days = static fn(SocketRun $run): float => (float) array_find(
            $run->judged()->readings,
            static fn(CheckReading $one): bool => $one->metric === 'check_certificate_left_seconds',
        )?->value / 86_400;
        self::assertEqualsWithDelta(40.0, $days($runs[9]), 0.1);
        self::assertStringContainsString('RSA 2048 bits', $runs[9]->lastAnswer());
    }

    public function testNothingOfThisMachineIsAskedWhereThatIsNotAllowed(): void
    {
        $runs = $this->runs('', [new TcpFields('localhost', 9), new TlsFields('[::1]', 9), new DnsFields('a.example', RecordType::A, ['127.0.0.1'])]);
        foreach ($runs as $run) {
            self::assertSame(Verdict::Unknown, $run->judged()->verdict, $run->judged()->words);
            self::assertStringContainsString('this machine itself', $run->judged()->words);
        }
    }

    /** What was let go of stays closed: nothing of it is listened to any more, and others are asked as before. */
    public function testWhatIsAbandonedIsClosed(): void
    {
        $hostile = $this->hostile();
        $definitions = (new \ReflectionClass(Definitions::class))->newInstanceWithoutConstructor();
        $asker = new SocketAsker(new Reach('loopback', 1), new CheckAsks($definitions));
        $run = static fn(AskFields $asks): SocketRun => new SocketRun(new Target('run', '', Instant::ofMs(0)), null, 1, $asks);
        $files = static fn(): int => count(scandir('/proc/self/fd') ?: []);
        $before = $files();
        for ($i = 0; $i < 5; ++$i) {
            $asker->start($run(new TcpFields('127.0.0.1', $hostile, 'GET /endless HTTP/1.0\r\n\r\n', '"never"', 30.0)));
            $asker->start($run(new TlsFields('127.0.0.1', $hostile)));
            $asker->advance(0.05);
            $asker->abandon();
        }
        self::assertSame(0, $asker->inFlight());
        $next = $run(new TcpFields('127.0.0.1', $hostile, 'GET /speaks-otherwise HTTP/1.0\r\n\r\n', '"ESMTP"'));
        $asker->start($next);
        for ($until = microtime(true) + 10; $asker->inFlight() > 0 && microtime(true) < $until;) {
            $asker->advance(0.1);
        }
        self::assertSame(Verdict::Runs, $next->judged()->verdict, $next->judged()->words);
        self::assertLessThanOrEqual($before + 2, $files(), 'no connection is left');
    }

    /**
     * @param array<int, AskFields> $asks
     *
     * @return array<int, SocketRun>
     */
    private function runs(string $mayAsk, array $asks): array
    {
        $definitions = (new \ReflectionClass(Definitions::class))->newInstanceWithoutConstructor();
        $asker = new SocketAsker(new Reach($mayAsk, 1), new CheckAsks($definitions));
        $waiting = [];
        foreach ($asks as $i => $one) {
            $run = $waiting[$i] = new SocketRun(new Target("run {$i}", '', Instant::ofMs(0)), null, 1, $one);
            $asker->start($run);
        }
        for ($until = microtime(true) + 20; $asker->inFlight() > 0 && microtime(true) < $until;) {
            $asker->advance(0.1);
        }
        self::assertSame(0, $asker->inFlight(), 'all ended');

        return $waiting;
    }

    private function hostile(): int
    {
        $server = $this->started([PHP_BINARY, '-d', 'memory_limit=1G', __DIR__ . '/hostile-server.php']);
        $server->waitUntil(static fn(string $type, string $text): bool => ctype_digit(trim($text)));

        return (int) trim($server->getOutput());
    }

    private function dns(string $address, string $host): int
    {
        $port = self::freePort();
        $this->started([
            'dnsmasq', '--no-daemon', '--conf-file=/dev/null', "--port={$port}", '--listen-address=127.0.0.1', '--bind-interfaces', '--no-resolv',
            '--no-hosts', '--pid-file=', '--user=root', "--host-record={$host}.saltmarsh.example,{$address}",
            "--txt-record={$host}.saltmarsh.example,the tide is high",
            '--local=/saltmarsh.example/', '--cache-size=0',
        ]);
        self::waitFor($port);

        return $port;
    }

    /** @param list<string> $options of the certificate */
    private function tls(array $options): int
    {
        $port = self::freePort();
        [$key, $certificate] = ["{$this->folder}/{$port}.key", "{$this->folder}/{$port}.pem"];
        $made = new Process(['openssl', 'req', '-x509', '-nodes', '-subj', '/CN=Harbour', '-keyout', $key, '-out', $certificate, ...$options]);
        $made->mustRun();
        $this->started(['openssl', 's_server', '-accept', "127.0.0.1:{$port}", '-key', $key, '-cert', $certificate, '-quiet', '-cipher', 'DEFAULT@SECLEVEL=0']);
        self::waitFor($port);

        return $port;
    }

    /** @param list<string> $command */
    private function started(array $command): Process
    {
        $process = $this->processes[] = new Process($command);
        $process->setTimeout(null);
        $process->setInput((new \Symfony\Component\Process\InputStream()));
        $process->start();

        return $process;
    }

    private static function waitFor(int $port): void
    {
        Instance::eventually(
            static function () use ($port): bool {
                $socket = @stream_socket_client("tcp://127.0.0.1:{$port}", timeout: 1.0);

                return is_resource($socket) && fclose($socket);
            },
            20,
            "something listens at {$port}",
        );
    }

    private static function freePort(): int
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($socket);
        $port = (int) parse_url('tcp://' . stream_socket_get_name($socket, false), PHP_URL_PORT);
        fclose($socket);

        return $port;
    }
}

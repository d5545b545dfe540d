<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Check\CheckAsks;
use Olivine\App\Collect\Check\CheckSecrets;
use Olivine\App\Collect\Check\HttpAsker;
use Olivine\App\Collect\Check\HttpChecks;
use Olivine\App\Collect\Check\HttpRun;
use Olivine\App\Collect\Check\ReadDocuments;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Definition\HeaderFields;
use Olivine\App\Collect\Definition\HttpFields;
use Olivine\App\Collect\Definition\HttpMethod;
use Olivine\App\Collect\Definition\HttpStepFields;
use Olivine\App\Collect\Definition\TakenFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** HTTP checks against servers that do all that they must not, and one that behaves. */
final class HttpAskerTest extends TestCase
{
    private Process $server;
    private string $base;
    private CheckSecrets $secrets;

    protected function setUp(): void
    {
        $this->server = new Process([PHP_BINARY, '-d', 'memory_limit=1G', __DIR__ . '/hostile-server.php']);
        $this->server->start();
        $this->server->waitUntil(static fn(string $type, string $text): bool => ctype_digit(trim($text)));
        $this->base = 'http://127.0.0.1:' . trim($this->server->getOutput());
        $this->secrets = new CheckSecrets(new Credentials('a secret of the test', sys_get_temp_dir()));
    }

    protected function tearDown(): void
    {
        $this->server->stop(0, SIGKILL);
    }

    /** Each harms only its own check: all end in time, in words, and the good ones beside them run. */
    public function testEveryMisdeedHarmsItsOwnCheckAlone(): void
    {
        $cases = [
            'hangs' => ["{$this->base}/hangs", '', Verdict::Down, '~^No whole answer within 2 s$~'],
            'drips' => ["{$this->base}/drips", '', Verdict::Down, '~^No whole answer within 2 s$|timed out~'],
            'endless' => ["{$this->base}/endless", '', Verdict::Runs, '~^$~'],
            'bomb' => ["{$this->base}/bomb", '"aaa"', Verdict::Runs, '~^$~'],
            'circle' => ["{$this->base}/circle", '', Verdict::Down, '~sends us on more than 8 times~'],
            'cut' => ["{$this->base}/cut", '', Verdict::Down, '~closed the connection~'],
            'binary' => ["{$this->base}/binary", 'json /a = 1', Verdict::Partly, '~no JSON~'],
            'away' => ["{$this->base}/away", '', Verdict::Down, '~status 503~'],
            'other protocol' => ["{$this->base}/speaks-otherwise", '', Verdict::Down, '~does not speak HTTP|status 404|closed~'],
            'bad TLS' => [str_replace('http://', 'https://', "{$this->base}/"), '', Verdict::Down, '~TLS|secure connection~'],
            'nobody there' => ['http://127.0.0.1:9/', '', Verdict::Down, '~connection refused~'],
            'name unknown' => ['http://nobody.invalid/', '', Verdict::Down, '~^The name of the host (is not known|could not be looked up|was not found)~'],
            'a cloud tells its machines' => ['http://169.254.169.254/latest', '', Verdict::Unknown, '~never asks~'],
            'sent on to there' => ["{$this->base}/sends?to=" . rawurlencode('http://169.254.169.254/'), '', Verdict::Unknown, '~never asks~'],
            'sent on to a private network' => ["{$this->base}/sends?to=" . rawurlencode('http://10.1.2.3/'), '', Verdict::Unknown, '~private network~'],
            'sent on to a file' => [
                "{$this->base}/sends?to=" . rawurlencode('file:///etc/passwd'),
                '',
                Verdict::Down,
                '~sends us on to something that is no address~',
            ],
            'good' => ["{$this->base}/gzip", '', Verdict::Runs, '~^$~'],
            'sent on to a good one' => ["{$this->base}/sends?to=%2Fgzip", '', Verdict::Runs, '~^$~'],
        ];
        $asker = $this->asker('loopback');
        foreach ($cases as $name => [$url, $expects]) {
            $patience = in_array($name, ['hangs', 'drips'], true) ? 2.0 : 15.0;
            $asker->start($this->going($name, new HttpStepFields($url, expects: $expects, patienceSeconds: $patience)));
        }
        [$memory, $from] = [memory_get_usage(), microtime(true)];
        $runs = $this->ended($asker, count($cases), 20);
        self::assertLessThan(12.0, microtime(true) - $from);
        self::assertLessThan(40_000_000, memory_get_usage() - $memory, 'a bomb is not held whole');
        foreach ($cases as $name => [, , $verdict, $words]) {
            $judgement = $runs[$name]->judged();
            self::assertSame($verdict, $judgement->verdict, "{$name}: {$judgement->words}");
            self::assertMatchesRegularExpression($words, $judgement->words, $name);
            self::assertLessThanOrEqual(70_000, strlen($runs[$name]->lastAnswer()), $name);
            self::assertDoesNotMatchRegularExpression('~Exception|\.php|curl~i', $judgement->words);
        }
        self::assertSame(0, $asker->inFlight());
        self::assertSame(["{$this->base}/sends?to=%2Fgzip"], $runs['sent on to a good one']->steps()[0]->via);
    }

    /** Where nothing of this machine may be asked, nothing is sent there; whatever the name is. */
    public function testNothingIsSentToWhereOlivineMayNotAsk(): void
    {
        $asker = $this->asker('');
        foreach (['127.0.0.1', 'localhost', '[::1]', '127.1.2.3', 'pier.localhost'] as $host) {
            $url = str_replace('127.0.0.1', $host, $this->base) . '/guarded';
            $asker->start($this->going($host, new HttpStepFields($url)));
        }
        foreach ($this->ended($asker, 5, 10) as $host => $run) {
            self::assertSame(Verdict::Unknown, $run->judged()->verdict, $host);
            self::assertSame([null, ''], [$run->steps()[0]->status, $run->lastAnswer()], $host);
        }
    }

    /** An address of the newer kind needs nobody to look it up. */
    public function testAnAddressOfTheNewerKindIsAsked(): void
    {
        $code = 'function main() { $s = stream_socket_server("tcp://[::1]:0"); echo stream_socket_get_name($s, false), "\n";
            $c = stream_socket_accept($s, 20); fread($c, 4000); fwrite($c, "HTTP/1.1 200 OK\r\nContent-Length: 4\r\n\r\nahoy"); sleep(1); } main();';
        $server = new Process([PHP_BINARY, '-r', $code]);
        $server->start();
        $server->waitUntil(static fn(string $type, string $text): bool => str_contains($text, "\n"));
        $port = preg_replace('~^.*:~', '', trim($server->getOutput()));
        $asker = $this->asker('loopback');
        $asker->start($this->going('newer', new HttpStepFields("http://[::1]:{$port}/", expects: '"ahoy"')));
        $judgement = $this->ended($asker, 1, 15)['newer']->judged();
        $server->stop(0, SIGKILL);
        self::assertSame([Verdict::Runs, ''], [$judgement->verdict, $judgement->words]);
    }

    /** Cookies and what an answer brought go on; secrets are filled in, and shown nowhere; nothing of them goes to another server. */
    public function testAWayThroughSeveralSteps(): void
    {
        $asker = $this->asker('loopback');
        $login = new HttpStepFields(
            "{$this->base}/login",
            'login',
            HttpMethod::Post,
            body: '{"password": "{password}"}',
            takes: [new TakenFields('token', 'json /token')],
        );
        $inside = new HttpStepFields(
            "{$this->base}/inside?of={token}",
            'inside',
            headers: [new HeaderFields('X-Token', '{token}')],
            expects: 'json /cookie = "berth=7" and json /token = "a b&c"',
        );
        $asker->start($this->going('way', $login, $inside));
        $run = $this->ended($asker, 1, 10)['way'];
        self::assertSame([Verdict::Runs, ''], [$run->judged()->verdict, $run->judged()->words]);
        $shown = json_encode([$run->steps(), $run->lastAnswer()], JSON_THROW_ON_ERROR);
        self::assertStringNotContainsString('two-bells', $shown);
        self::assertStringContainsString('{password}', $shown);
        self::assertStringContainsString('of={token}', $run->steps()[1]->sent);

        $asker->start($this->going('elsewhere', new HttpStepFields('http://127.0.0.1:9/', body: '{password}')));
        $to = rawurlencode('http://localhost:' . parse_url($this->base, PHP_URL_PORT) . '/inside');
        $led = new HttpStepFields("{$this->base}/sends?to={$to}", headers: [new HeaderFields('X-Token', '{password}')]);
        $asker->start($this->going('led', $led));
        $runs = $this->ended($asker, 2, 10);
        self::assertStringContainsString('was not entered for http://127.0.0.1:9', $runs['elsewhere']->judged()->words);
        self::assertSame(Verdict::Unknown, $runs['elsewhere']->judged()->verdict);
        self::assertSame('{"cookie":"","token":""}', $runs['led']->lastAnswer(), 'what is filled in stays with the server it is for');
    }

    private function asker(string $mayAsk): HttpAsker
    {
        // Here checks are made as they are, not read.
        $definitions = (new \ReflectionClass(Definitions::class))->newInstanceWithoutConstructor();

        return new HttpAsker(new Reach($mayAsk, 1), new HttpChecks(new CheckAsks($definitions), $this->secrets, new ReadDocuments()));
    }

    private function going(string $name, HttpStepFields ...$steps): HttpRun
    {
        $target = new Target($name, '', Instant::ofMs(0));
        $check = HttpChecks::check(new HttpFields(array_values($steps)), null);

        return new HttpRun($target, null, 1, $check, ['password' => 'two-bells-and-a-half'], [$this->base], ['password']);
    }

    /** @return array<string, HttpRun> by name */
    private function ended(HttpAsker $asker, int $count, float $seconds): array
    {
        $runs = [];
        for ($until = microtime(true) + $seconds; count($runs) < $count && microtime(true) < $until;) {
            foreach ($asker->advance(0.1) as $run) {
                self::assertInstanceOf(HttpRun::class, $run);
                self::assertArrayNotHasKey($run->target->name, $runs, 'each ends once');
                $runs[$run->target->name] = $run;
            }
        }
        self::assertCount($count, $runs, 'all ended');

        return $runs;
    }
}

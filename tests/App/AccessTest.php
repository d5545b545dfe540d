<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Web\BodyBounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;

/** Who is let in, for how long, and what strangers, viewers and other accounts of the machine cannot do. */
final class AccessTest extends TestCase
{
    private const PASSWORD = 'a long enough password';

    /** Sessions, tools and links in mails of somebody end with the bar, the role, the removal, or by being ended. */
    public function testWhoeverIsBarredIsOutAtOnceWhereverTheyAre(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        [$id, $email] = $this->add($admin, 'engineer');
        $person = new Client($email, self::PASSWORD);
        $tool = static fn(): int => (new Client(null))->send('GET', '/api/newest', null, [
            'Authorization' => 'Basic ' . base64_encode("{$email}:" . self::PASSWORD),
        ])[0];
        $token = bin2hex(random_bytes(16));
        $incident = (int) $admin->send('GET', '/api/watch?back=168')[1]['past'][0]['id'];
        Instance::connect()->insert('act_token', [
            'token_hash' => hash('sha256', $token),
            'incident_id' => $incident,
            'person_id' => $id,
            'ends_at' => (int) (microtime(true) * 1000) + 600_000,
        ]);
        $acts = static fn(): bool => HttpClient::create()
            ->request('GET', Instance::web() . "/act/{$token}")
            ->getStatusCode() === 200;
        self::assertSame([200, 200, true], [$person->send('GET', '/api/watch')[0], $tool(), $acts()]);

        self::assertSame(200, $admin->change("/api/people/{$id}", ['role' => 'engineer', 'barred' => true])[0]);
        self::assertSame([401, 401, false], [$person->send('GET', '/api/watch')[0], $tool(), $acts()]);
        self::assertSame(401, (new Client(null))->send('POST', '/api/session', ['email' => $email, 'password' => self::PASSWORD])[0]);

        self::assertSame(200, $admin->change("/api/people/{$id}", ['role' => 'viewer', 'barred' => false])[0]);
        self::assertFalse($acts(), 'a viewer answers no incidents, not by an old link either');
        $again = new Client($email, self::PASSWORD);
        self::assertSame(200, $again->send('GET', '/api/watch')[0]);
        self::assertSame(200, $admin->send('POST', "/api/people/{$id}/end-sessions", [])[0]);
        self::assertSame(401, $again->send('GET', '/api/watch')[0]);

        self::assertSame(204, $admin->send('DELETE', "/api/people/{$id}", [])[0]);
        self::assertSame(401, (new Client(null))->send('POST', '/api/session', ['email' => $email, 'password' => self::PASSWORD])[0]);
        self::assertSame(
            201,
            $admin->send('POST', '/api/people', ['name' => 'Another', 'email' => $email, 'role' => 'viewer', 'password' => self::PASSWORD])[0],
            'the address is free',
        );
    }

    public function testThePasswordIsChangedByItsOwnerAndEndsTheOtherSessions(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        [, $email] = $this->add($admin, 'viewer');
        [$here, $there] = [new Client($email, self::PASSWORD), new Client($email, self::PASSWORD)];
        self::assertSame(
            'old',
            $here->send('POST', '/api/session/password', ['old' => 'not this one', 'new' => 'another long password'])[1]['field'],
        );
        self::assertSame('new', $here->send('POST', '/api/session/password', ['old' => self::PASSWORD, 'new' => 'short'])[1]['field']);
        self::assertSame(204, $here->send('POST', '/api/session/password', ['old' => self::PASSWORD, 'new' => 'another long password'])[0]);
        self::assertSame(401, $there->send('GET', '/api/watch')[0]);
        self::assertSame(401, (new Client(null))->send('POST', '/api/session', ['email' => $email, 'password' => self::PASSWORD])[0]);
        self::assertSame(200, (new Client($email, 'another long password'))->send('GET', '/api/watch')[0]);
    }

    /** @return iterable<string, array{string, int}> u: last used, c: made; seconds ago */
    public static function ages(): iterable
    {
        yield 'idle for more than twelve hours' => ['u', 12 * 3_600 + 60];
        yield 'older than seven days, however much it was used' => ['c', 7 * 86_400 + 60];
    }

    #[DataProvider('ages')]
    public function testASessionEnds(string $which, int $secondsAgo): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $file = "{$_SERVER['OLIVINE_STATE_DIR']}/sessions/sess_" . explode('=', $client->cookie())[1];
        $kept = (string) file_get_contents($file);
        self::assertSame(200, $client->send('GET', '/api/watch')[0]);
        $aged = preg_replace_callback(
            "~s:1:\"{$which}\";i:(\\d+)~",
            static fn(array $part): string => "s:1:\"{$which}\";i:" . ((int) $part[1] - $secondsAgo),
            $kept,
            1,
            $found,
        );
        self::assertSame(1, $found, $kept);
        file_put_contents($file, (string) $aged);
        self::assertSame(401, $client->send('GET', '/api/watch')[0]);
    }

    /** However an address is spelt it is one and the same to the limit, and many failures beside it keep nobody out. */
    public function testTriesAreCountedByPersonInWhateverSpelling(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        [, $email] = $this->add($admin, 'viewer');
        $try = static fn(string $who, string $password): int => (new Client(null))->send('POST', '/api/session', [
            'email' => $who,
            'password' => $password,
        ])[0];
        for ($i = 0; $i < 30; ++$i) {
            $try("nobody-{$i}-{$email}", 'wrong');
        }
        self::assertSame(200, $try($email, self::PASSWORD), 'thirty strangers from here do not keep a person out');
        foreach ([strtoupper($email), " {$email}", ucfirst($email), "{$email} ", strtoupper($email)] as $spelling) {
            self::assertContains($try($spelling, 'wrong'), [401, 429]);
        }
        self::assertSame(429, $try($email, 'wrong again'), 'five spellings are five tries of one');
    }

    /** An unknown address is refused no sooner than a known one with another's password. */
    public function testRefusingTakesAsLongForTheUnknown(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        $times = ['known' => [], 'unknown' => []];
        for ($i = 0; $i < 4; ++$i) {
            $emails = ['known' => $this->add($admin, 'viewer')[1], 'unknown' => 'nobody-' . bin2hex(random_bytes(4)) . '@saltmarsh.example'];
            foreach ($emails as $kind => $email) {
                $client = new Client(null);
                $began = hrtime(true);
                self::assertSame(401, $client->send('POST', '/api/session', ['email' => $email, 'password' => 'wrong'])[0]);
                $times[$kind][] = hrtime(true) - $began;
            }
        }
        self::assertGreaterThan(0.4, min([INF, ...$times['unknown']]) / min([INF, ...$times['known']]));
    }

    /** What is too large is refused before it is read; what is too deep as no request. */
    public function testBodiesAreBounded(): void
    {
        $http = HttpClient::create(['base_uri' => Instance::web(), 'timeout' => 120, 'headers' => ['Content-Type' => 'application/json']]);
        $post = static fn(string $path, string $body): int => $http->request('POST', $path, ['body' => $body])->getStatusCode();
        self::assertSame(413, $post('/api/session', '[' . str_repeat('[],', 1_000_000) . '[]]'));
        self::assertContains($post('/api/session', str_repeat('[', 100_000) . str_repeat(']', 100_000)), [400, 401]);
        self::assertContains($post('/api/session', '[' . str_repeat('[],', 80_000) . '[]]'), [400, 401]);
        self::assertSame(200, (new Client('viewer@saltmarsh.example'))->send('GET', '/api/watch')[0]);
        // Where more is brought, more is read, and refused for what it is.
        foreach (BodyBounds::LONGER as $address => $most) {
            $path = $address . (['/in/job/' => 'nobody/ended', '/in/station/' => 'cycle', '/api/pushed/' => 'x'][$address] ?? '');
            self::assertContains($post($path, str_repeat('x', min($most, 3_000_000) - 10)), [400, 401, 404], $path);
        }
        self::assertSame(413, $post('/in/station/cycle', str_repeat('x', 8_000_001)));
    }

    /** Half a request and then nothing: the connection is closed after some seconds, and an address holds no more than a hundred requests open. */
    public function testHalfOpenConnectionsAreClosed(): void
    {
        $sockets = [];
        for ($i = 0; $i < 20; ++$i) {
            $socket = stream_socket_client('tcp://127.0.0.1:' . Instance::port(0), $code, $message, 5);
            self::assertIsResource($socket);
            fwrite(
                $socket,
                $i % 2 === 0
                    ? "GET /api/watch HTTP/1.1\r\nHost: localhost\r\nX-A: "
                    : "POST /api/session HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 200\r\n\r\n{",
            );
            $sockets[] = $socket;
        }
        self::assertSame(200, (new Client('viewer@saltmarsh.example'))->send('GET', '/api/watch')[0]);
        $began = microtime(true);
        foreach ($sockets as $socket) {
            stream_set_timeout($socket, 20);
            stream_get_contents($socket);
            self::assertFalse(stream_get_meta_data($socket)['timed_out']);
            fclose($socket);
        }
        self::assertLessThan(18.0, microtime(true) - $began);
    }

    /** One address that holds a hundred requests open is told so, and everything is as before when it lets go. */
    public function testAnAddressHoldsOnlySoManyRequestsOpen(): void
    {
        $sockets = [];
        for ($i = 0; $i < 130; ++$i) {
            $socket = stream_socket_client('tcp://127.0.0.1:' . Instance::port(0), $code, $message, 5);
            self::assertIsResource($socket);
            fwrite($socket, "POST /api/session HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 200\r\n\r\n{");
            $sockets[] = $socket;
        }
        $ask = static fn(): int => HttpClient::create()
            ->request('GET', Instance::web() . '/api/session')
            ->getStatusCode();
        self::assertSame(
            429,
            HttpClient::create()
                ->request('GET', Instance::web() . '/api/session')
                ->getStatusCode(),
        );
        array_map(fclose(...), $sockets);
        Instance::eventually(static fn(): bool => $ask() === 200, 10, 'it is let in again');
    }

    /** @return iterable<string, array{string}> */
    public static function pages(): iterable
    {
        foreach (
            [
                '/',
                '/api/nope',
                '/act/nope',
                '/nope.php',
                '/build/nope.js',
                '/index.php',
                '/.env',
                '/a%00b',
                '/act/' . str_repeat('a', 3_000),
                '/api/watch',
                '/olivine.svg',
            ] as $path
        ) {
            yield substr($path, 0, 30) => [$path];
        }
    }

    /** Every answer, of files, of pages and of faults, says how it may be used, once, and tells nothing of the inside. */
    #[DataProvider('pages')]
    public function testEveryAnswerHoldsItsHeadersAndNoTraces(string $path): void
    {
        $response = HttpClient::create(['base_uri' => Instance::web(), 'timeout' => 30])->request('GET', $path, [
            'headers' => ['Accept' => 'text/html'],
        ]);
        $headers = $response->getHeaders(false);
        self::assertLessThan(500, $response->getStatusCode());
        foreach (['x-content-type-options', 'x-frame-options', 'content-security-policy', 'referrer-policy'] as $name) {
            self::assertCount(1, $headers[$name] ?? [], "{$path}: {$name}");
        }
        self::assertDoesNotMatchRegularExpression('~Stack trace|\.php\b|/vendor/|Exception|/work/~', $response->getContent(false));
        self::assertArrayNotHasKey('x-powered-by', $headers);
    }

    /** What Olivine tells of itself is for this machine: not through a proxy that runs on it either. */
    public function testOwnFiguresAreForThisMachineAlone(): void
    {
        $ask = static fn(array $headers): int => (new Client(null))->send('GET', '/api/own-metrics', null, $headers)[0];
        self::assertSame(200, $ask([]));
        foreach (
            [
                ['X-Forwarded-For' => '203.0.113.7'],
                ['Forwarded' => 'for=203.0.113.7'],
                ['X-Real-IP' => '203.0.113.7'],
                ['Via' => '1.1 proxy'],
                ['Host' => 'olivine.saltmarsh.example'],
            ] as $headers
        ) {
            self::assertSame(403, $ask($headers), (string) array_key_first($headers));
        }
    }

    /** Whoever is not a proxy that is trusted cannot say that a change came from our own page. */
    public function testForwardsOfStrangersAreNotBelieved(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $headers = ['X-Forwarded-Host' => 'evil.example', 'X-Forwarded-Proto' => 'https', 'Origin' => 'https://evil.example'];
        self::assertSame(403, $client->send('POST', '/api/incidents/999999/acknowledge', [], $headers)[0]);
        self::assertSame(404, $client->send('POST', '/api/incidents/999999/acknowledge', [], ['Origin' => Instance::web()])[0]);
    }

    /** Three long reads of one person at once: one is told to come again, and short ones go on beside them. */
    public function testLongReadsHaveFewPlaces(): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $http = HttpClient::create(
            ['base_uri' => Instance::web(), 'timeout' => 120, 'headers' => ['Cookie' => $client->cookie()], 'buffer' => false],
            20,
        );
        $to = (int) (microtime(true) * 1000);
        $exports = [];
        for ($i = 0; $i < 6; ++$i) {
            $exports[] = $http->request(
                'GET',
                '/api/export?' .
                    http_build_query(['formula' => 'system_cpu_time_seconds_total', 'from' => $to - 3 * 86_400_000, 'to' => $to, 'as' => 'csv']),
            );
        }
        // Nobody takes what they send, so those that have a place keep it.
        usleep(300_000);
        $began = microtime(true);
        self::assertSame(200, $client->send('GET', '/api/session')[0]);
        self::assertLessThan(1.5, microtime(true) - $began, 'their session is not held');
        $statuses = array_map(static fn($response): int => $response->getStatusCode(), $exports);
        foreach ($exports as $response) {
            $response->cancel();
        }
        self::assertContains(200, $statuses);
        self::assertContains(429, $statuses, implode(', ', $statuses));
        Instance::eventually(
            static fn(): bool => $client->send(
                'GET',
                '/api/export?' . http_build_query(['formula' => 'messaging_queue_depth', 'from' => $to - 600_000, 'to' => $to, 'as' => 'csv']),
            )[0] === 200,
            20,
            'who hung up holds no place',
        );
    }

    /** @return iterable<string, array{string, int}> formula, status */
    public static function heavy(): iterable
    {
        yield 'a hundred and fifty patterns' => [
            implode(' + ', array_fill(0, 150, 'count(messaging_queue_depth where queue matches "(a+)+b")')),
            422,
        ];
        yield 'a filter of three hundred tests' => ['messaging_queue_depth where ' . implode(' and ', array_fill(0, 300, 'queue != "x"')), 422];
        yield 'a few of both' => ['messaging_queue_depth where queue matches "b.*" and broker != "x"', 200];
    }

    #[DataProvider('heavy')]
    public function testWhatIsTooMuchIsRefusedBeforeItRuns(string $formula, int $status): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $began = microtime(true);
        self::assertSame($status, $client->send('GET', '/api/chart?' . http_build_query(['formula' => $formula]))[0]);
        self::assertLessThan(3.0, microtime(true) - $began);
    }

    /** A group's credential is for the servers it was given for: naming the group with an address of one's own brings it nowhere. */
    public function testAGroupsCredentialGoesToNoOtherServer(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $agent = 'http://127.0.0.1:' . Instance::port(5) . '/metrics';
        $credential = ['kind' => 'bearer', 'name' => '', 'secret' => 'the-token-of-the-gauges'];
        $group = $client->send('POST', '/api/groups', ['name' => 'guarded ' . bin2hex(random_bytes(3)), 'credential' => $credential])[1]['id'];
        $given = $client->send('POST', '/api/targets', ['name' => 'guarded agent', 'url' => $agent, 'group' => $group, 'credential' => $credential]);
        self::assertSame(201, $given[0], $given[2]);
        foreach (['/api/targets/test', '/api/targets'] as $path) {
            [$status, $problem, $text] = $client->send('POST', $path, [
                'name' => 'reads it out',
                'url' => 'http://127.0.0.1:' . Instance::port(2) . '/t/web-1/metrics',
                'group' => $group,
            ]);
            self::assertSame([422, 'credential'], [$status, $problem['field'] ?? null], $text);
        }
        $client->send('DELETE', "/api/targets/{$given[1]['id']}", []);
        self::assertContains($client->send('DELETE', "/api/groups/{$group}", [])[0], [204, 409]);
    }

    /** Secrets are root's, the compiled application cannot be changed by whoever runs it, and parts have no more than they need. */
    public function testFilesAndProcessesHaveTheirOwners(): void
    {
        $dir = (string) $_SERVER['OLIVINE_STATE_DIR'];
        clearstatcache();
        self::assertSame('600', decoct(fileperms("{$dir}/env") & 0o777));
        $writable = [];
        foreach (
            new \RecursiveIteratorIterator(
                new \RecursiveDirectoryIterator($dir, \FilesystemIterator::SKIP_DOTS),
                \RecursiveIteratorIterator::SELF_FIRST,
            ) as $file
        ) {
            $path = $file->getPathname();
            $isClosed = ((int) @fileperms(dirname($path)) & 0o077) === 0;
            if (str_contains($path, '/database/') || str_contains($path, '/beside-') || $file->isLink() || $isClosed) {
                continue;
            }
            $others = (int) @fileperms($path) & 0o022;
            if (!($others === 0 || (is_dir($path) && ((int) fileperms($path) & 0o1000) !== 0))) {
                $writable[] = $path;
            }
            if (str_starts_with($path, "{$dir}/cache/")) {
                self::assertSame(0, (int) @fileowner($path), "{$path} is root's");
            }
        }
        self::assertSame([], array_slice($writable, 0, 5), 'nobody else writes here');
        $password = Instance::connect()->getParams()['password'] ?? '';
        self::assertNotSame('', $password);
        $users = [];
        foreach ((array) glob('/proc/[0-9]*/cmdline') as $file) {
            $command = (string) @file_get_contents((string) $file);
            self::assertStringNotContainsString($password, $command, 'no password among the arguments');
            $environment = (string) @file_get_contents(dirname((string) $file) . '/environ');
            if (
                preg_match('~olivine:(collector|evaluator|dispatcher|keeper|web)\b~', $command, $part) === 1
                && str_contains($environment, "OLIVINE_STATE_DIR={$dir}\0")
            ) {
                $users[$part[1]] = posix_getpwuid((int) fileowner(dirname((string) $file)))['name'] ?? '';
            }
        }
        foreach (['collector', 'evaluator', 'dispatcher', 'keeper'] as $part) {
            self::assertSame('olivine', $users[$part] ?? null, $part);
        }
    }

    /** @return array{int, string} */
    private function add(Client $admin, string $role): array
    {
        $email = 'access-' . bin2hex(random_bytes(4)) . '@saltmarsh.example';
        [$status, $person, $text] = $admin->send('POST', '/api/people', [
            'name' => 'Access Test',
            'email' => $email,
            'role' => $role,
            'password' => self::PASSWORD,
        ]);
        self::assertSame(201, $status, $text);

        return [$person['id'], $email];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\WorkTime;
use Olivine\App\Web\FastCgiRequest;
use Olivine\App\Web\WebWorker;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Psr\Log\NullLogger;
use Symfony\Component\Cache\Adapter\ArrayAdapter;
use Symfony\Component\Cache\Adapter\FilesystemAdapter;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Finder\Finder;
use Symfony\Component\HttpClient\CurlHttpClient;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\HttpKernel\KernelInterface;
use Symfony\Component\Process\Process;
use Symfony\Contracts\HttpClient\ResponseInterface;

/** Workers that stay in memory: what they understand, that nothing of one request is left for the next, and what does not stop them. */
final class WebTest extends TestCase
{
    private const BEGIN = 1;
    private const ABORT = 2;
    private const END = 3;
    private const PARAMS = 4;
    private const STDIN = 5;
    private const STDOUT = 6;

    /**
     * @return iterable<string, array{string, array<string, string>|null, string}> bytes of the web server, the parameters they hold
     *     (nothing: no request), and the body
     */
    public static function calls(): iterable
    {
        $begin = self::record(self::BEGIN, pack('nCx5', 1, 0));
        $path = self::pair('REQUEST_URI', '/api/watch');
        $end = self::record(self::PARAMS, '') . self::record(self::STDIN, '');
        $long = str_repeat('x', 70_000);
        yield 'parameters and no body' => [$begin . self::record(self::PARAMS, $path) . $end, ['REQUEST_URI' => '/api/watch'], ''];
        yield 'an empty value' => [$begin . self::record(self::PARAMS, self::pair('QUERY_STRING', '')) . $end, ['QUERY_STRING' => ''], ''];
        yield 'a value of more than 127 bytes' => [
            $begin . self::record(self::PARAMS, self::pair('HTTP_COOKIE', str_repeat('c', 128))) . $end,
            ['HTTP_COOKIE' => str_repeat('c', 128)],
            '',
        ];
        yield 'a parameter cut in two' => [
            $begin . self::record(self::PARAMS, substr($path, 0, 9)) . self::record(self::PARAMS, substr($path, 9)) . $end,
            ['REQUEST_URI' => '/api/watch'],
            '',
        ];
        yield 'a body in two parts, with padding' => [
            $begin .
            self::record(self::PARAMS, $path, 5) .
            self::record(self::PARAMS, '') .
            self::record(self::STDIN, $long = substr($long, 0, 65_535), 1) .
            self::record(self::STDIN, 'end', 5) .
            self::record(self::STDIN, ''),
            ['REQUEST_URI' => '/api/watch'],
            "{$long}end",
        ];
        yield 'nothing' => ['', null, ''];
        yield 'cut in a header' => [substr($begin, 0, 5), null, ''];
        yield 'cut in its content' => [substr($begin . self::record(self::PARAMS, $path), 0, -4), null, ''];
        yield 'taken back' => [$begin . self::record(self::ABORT, ''), null, ''];
        yield 'another protocol' => ["GET /api/watch HTTP/1.1\r\nHost: olivine.example\r\n\r\n" . str_repeat("\0", 70_000), null, ''];
        yield 'parameters without end' => [$begin . str_repeat(self::record(self::PARAMS, str_repeat("\1\1ab", 16_000)), 20), null, ''];
    }

    /** @param array<string, string>|null $params */
    #[DataProvider('calls')]
    public function testReadsWhatTheWebServerHandsOn(string $bytes, ?array $params, string $body): void
    {
        $file = tmpfile();
        self::assertIsResource($file);
        fwrite($file, $bytes);
        rewind($file);
        $call = FastCgiRequest::receive($file);
        self::assertSame($params, $call?->params);
        self::assertSame($body, $call === null ? '' : stream_get_contents($call->body));
    }

    /** @return iterable<string, array{\Closure(): Response, bool, string}> an answer, whether it may end as whole, and its text */
    public static function answers(): iterable
    {
        $long = str_repeat("0123456789abcdef\n", 20_000);
        yield 'all at once' => [static fn(): Response => new Response('fine'), true, 'fine'];
        yield 'longer than a record' => [static fn(): Response => new Response($long), true, $long];
        yield 'in pieces' => [
            static fn(): Response => new StreamedResponse(static function () use ($long): void {
                foreach (str_split($long, 1_000) as $piece) {
                    echo $piece;
                }
            }),
            true,
            $long,
        ];
        yield 'nothing at all' => [static fn(): Response => new StreamedResponse(static function (): void {
        }), true, ''];
        yield 'a fault that nothing inside has caught' => [
            static fn(): Response => throw new \RuntimeException('The database went away'),
            true,
            '{"status":500,"title":"Olivine failed to do this; the log of the web part has the reason"}',
        ];
        yield 'a fault before anything went out' => [
            static fn(): Response => new StreamedResponse(static function (): void {
                echo 'a few bytes';
                throw new \RuntimeException('The database went away');
            }),
            true,
            '{"status":500,"title":"Olivine failed to do this; the log of the web part has the reason"}',
        ];
        yield 'a fault after some pieces' => [
            static fn(): Response => new StreamedResponse(static function () use ($long): void {
                echo substr($long, 0, 40_000);
                throw new \RuntimeException('The database went away');
            }),
            false,
            substr($long, 0, 40_000),
        ];
    }

    /** @param \Closure(): Response $answer */
    #[DataProvider('answers')]
    public function testAnAnswerEndsAsWholeOnlyWhereItIs(\Closure $answer, bool $isWhole, string $text): void
    {
        [$body, $ended] = $this->exchange($answer, null);
        self::assertSame($isWhole, $ended);
        self::assertSame($text, $body);
    }

    public function testWhatNobodyWaitsForIsNotWorkedOut(): void
    {
        $pieces = 0;
        $level = ob_get_level();
        $this->exchange(
            static fn(): Response => new StreamedResponse(static function () use (&$pieces): void {
                for (; $pieces < 10_000; ++$pieces) {
                    echo str_repeat('x', 40_000);
                }
            }),
            100_000,
        );
        self::assertLessThan(100, $pieces);
        self::assertSame($level, ob_get_level());
    }

    public function testLengthsThatPointBehindTheEndAreNoHarm(): void
    {
        for ($i = 0; $i < 2_000; ++$i) {
            $file = tmpfile();
            self::assertIsResource($file);
            fwrite(
                $file,
                self::record(self::BEGIN, pack('nCx5', 1, 0)) .
                    self::record(self::PARAMS, random_bytes(random_int(1, 60))) .
                    self::record(self::PARAMS, '') .
                    self::record(self::STDIN, ''),
            );
            rewind($file);
            self::assertNotNull(FastCgiRequest::receive($file));
            fclose($file);
        }
    }

    /** Three people and a stranger ask all workers at once, over and over: each is answered as who they are. */
    public function testNobodyIsTakenForAnother(): void
    {
        $http = new CurlHttpClient(['base_uri' => Instance::web(), 'timeout' => 30], 20);
        $cookies = ['' => ''];
        foreach (['viewer', 'ines', 'admin'] as $name) {
            $cookies["{$name}@saltmarsh.example"] = (new Client("{$name}@saltmarsh.example"))->cookie();
        }
        $responses = [];
        for ($i = 0; $i < 400; ++$i) {
            $email = array_rand($cookies);
            $path = $i % 5 === 0 ? '/api/audit' : '/api/session';
            $responses[] = [
                $email,
                $path,
                $http->request('GET', $path, ['headers' => $cookies[$email] === '' ? [] : ['Cookie' => $cookies[$email]]]),
            ];
        }
        foreach ($responses as [$email, $path, $response]) {
            if ($path === '/api/audit') {
                self::assertSame(
                    match ($email) {
                        '' => 401,
                        'admin@saltmarsh.example' => 200,
                        default => 403,
                    },
                    $response->getStatusCode(),
                    $email,
                );
            } else {
                self::assertSame($email, $response->toArray()['person']['email'] ?? '', 'the session of another');
                self::assertTrue($email !== '' || !isset($response->getHeaders()['set-cookie']), 'a stranger who only looks gets no session');
            }
        }
    }

    /** A session that is used stays young without being written, and one that somebody invents is not taken over. */
    public function testSessionsAreTouchedAndNotTakenOver(): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $file = "{$_SERVER['OLIVINE_STATE_DIR']}/sessions/sess_" . explode('=', $client->cookie())[1];
        $kept = file_get_contents($file);
        touch($file, time() - 3_000);
        self::assertSame(200, $client->send('GET', '/api/watch')[0]);
        clearstatcache();
        self::assertGreaterThan(time() - 60, filemtime($file));
        self::assertSame($kept, file_get_contents($file));

        $invented = 'olivine=' . bin2hex(random_bytes(16));
        $guest = new Client(null);
        [$status] = $guest->send(
            'POST',
            '/api/session',
            ['email' => 'viewer@saltmarsh.example', 'password' => 'salt-and-marsh'],
            ['Cookie' => $invented],
        );
        self::assertSame(200, $status);
        self::assertNotSame($invented, $guest->cookie());
        foreach (['../../../etc/passwd', '..', str_repeat('a', 300), "a\0b"] as $hostile) {
            self::assertSame(401, (new Client(null))->send('GET', '/api/watch', null, ['Cookie' => 'olivine=' . rawurlencode($hostile)])[0]);
        }
    }

    /** What one person changes is seen by the next requests, whichever workers take them. */
    public function testNoWorkerRemembersWhatHasChanged(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $rule = $client->send('POST', '/api/rules', PlainRule::of(['name' => 'Remembered ' . bin2hex(random_bytes(4)), 'limit' => 90_000, 'clear' => 9]))[1];
        try {
            $http = new CurlHttpClient(['base_uri' => Instance::web(), 'timeout' => 120, 'headers' => ['Cookie' => $client->cookie()]], 20);
            for ($limit = 90_001; $limit < 90_012; ++$limit) {
                $rule = $client->send('PUT', "/api/rules/{$rule['id']}", PlainRule::changed($rule, ['limit' => $limit]))[1];
                $answers = array_map(static fn(): ResponseInterface => $http->request('GET', "/api/rules/{$rule['id']}"), range(1, 20));
                self::assertSame(
                    [$limit],
                    array_values(array_unique(array_map(static fn(ResponseInterface $answer): mixed => PlainRule::limitOf($answer->toArray()), $answers))),
                );
            }
        } finally {
            self::assertSame(204, $client->send('DELETE', "/api/rules/{$rule['id']}", [])[0]);
        }
    }

    /** Garbage on their port, a hundred connections that hang up, and the end of any one of them: the page still comes. */
    public function testWorkersOutliveWhatIsThrownAtThem(): void
    {
        for ($i = 0; $i < 100; ++$i) {
            $socket = stream_socket_client('tcp://127.0.0.1:' . Instance::port(6), $code, $message, 5);
            self::assertIsResource($socket);
            fwrite($socket, $i % 2 === 0 ? random_bytes(random_int(1, 2_000)) : '');
            fclose($socket);
        }
        $client = new Client('viewer@saltmarsh.example');
        self::assertSame(200, $client->send('GET', '/api/watch')[0]);
        $workers = array_filter(explode("\n", (string) shell_exec('pgrep -f "olivine:web --port=' . Instance::port(6) . '"')));
        self::assertGreaterThan(5, count($workers));
        sort($workers);
        posix_kill((int) $workers[3], SIGKILL);
        for ($i = 0; $i < 30; ++$i) {
            self::assertSame(200, $client->send('GET', '/api/session')[0]);
        }
    }

    /** Sources changed under it, or its compiled form is gone: it compiles the application itself, and what that took is not held against its workers. */
    public function testAWebThatHasToCompileTheApplicationServesToo(): void
    {
        $stateDir = Instance::stateDirFor('compile');
        (new Filesystem())->remove("{$stateDir}/cache");
        $free = stream_socket_server('tcp://127.0.0.1:0') ?: self::fail('no socket');
        $address = (string) stream_socket_get_name($free, false);
        fclose($free);
        $web = new Process(
            [PHP_BINARY, 'bin/console', 'olivine:web', '--port=' . substr((string) strrchr($address, ':'), 1), '--workers=2'],
            dirname(__DIR__, 2),
            ['OLIVINE_STATE_DIR' => $stateDir],
        );
        $web->start();
        try {
            $request =
                self::record(self::BEGIN, pack('nCx5', 1, 0)) .
                self::record(
                    self::PARAMS,
                    self::pair('REQUEST_METHOD', 'GET') . self::pair('REQUEST_URI', '/api/session') . self::pair('SERVER_NAME', 'localhost'),
                ) .
                self::record(self::PARAMS, '') .
                self::record(self::STDIN, '');
            $answer = '';
            Instance::eventually(
                static function () use ($address, $request, &$answer): bool {
                    $socket = @stream_socket_client("tcp://{$address}", $code, $message, 1.0);
                    if ($socket === false) {
                        return false;
                    }
                    stream_set_timeout($socket, 5);
                    fwrite($socket, $request);
                    $answer = (string) stream_get_contents($socket);

                    return $answer !== '';
                },
                30,
                'an answer',
            );
            self::assertStringContainsString('Status: 200', $answer);
            self::assertStringContainsString('"person":null', $answer);
        } finally {
            $web->stop(5);
        }
    }

    /**
     * The web works under an account of its own; a folder that another part had made would be closed to it, and nothing would be
     * shared, counted or held back.
     */
    public function testWhatTheWebKeepsIsItsOwn(): void
    {
        $client = new Client('viewer@saltmarsh.example');
        foreach (range(1, 20) as $i) {
            $client->send('GET', '/api/chart?formula=' . rawurlencode("sum(messaging_queue_depth) + {$i}"));
        }
        $state = (string) $_SERVER['OLIVINE_STATE_DIR'];
        $web = json_decode((string) file_get_contents("{$state}/run/parts.json"), true, 8, JSON_THROW_ON_ERROR)['web']['pid'];
        // Fields of Uid: real, effective, saved, of the file system.
        $account = (int) (preg_split('~\s+~', (string) strstr((string) file_get_contents("/proc/{$web}/status"), 'Uid:'), 4) ?: [])[2];
        $folders = 0;
        foreach ((new Finder())->directories()->in("{$state}/pools") as $folder) {
            ++$folders;
            self::assertTrue(
                fileowner((string) $folder) === $account || (fileperms((string) $folder) & 0o002) !== 0,
                "{$folder} is closed to the web",
            );
        }
        self::assertGreaterThan(10, $folders);
    }

    public function testWhatWasKeptForSomeSecondsDoesNotStay(): void
    {
        $dir = "{$_SERVER['OLIVINE_STATE_DIR']}/tidied";
        $kept = new FilesystemAdapter('kept', 0, $dir);
        foreach (range(1, 50) as $i) {
            $kept->save(
                $kept
                    ->getItem("of incident {$i}")
                    ->set($i)
                    ->expiresAfter($i <= 40 ? 1 : 3_600),
            );
        }
        $kernel = self::createStub(KernelInterface::class);
        $kernel->method('handle')->willReturn(new Response('fine'));
        $worker = new WebWorker(
            $kernel,
            self::createStub(Connection::class),
            self::createStub(ManagerRegistry::class),
            new NullLogger(),
            static fn(): FilesystemAdapter => $kept,
            new WorkTime(),
        );
        $files = static fn(): int => count(iterator_to_array((new Finder())->files()->in($dir)));
        self::assertSame(50, $files());
        usleep(1_100_000);
        foreach (range(1, 1_000) as $i) {
            [$near, $far] = (array) stream_socket_pair(STREAM_PF_UNIX, STREAM_SOCK_STREAM, 0);
            \assert(is_resource($near) && is_resource($far));
            fwrite($far, self::record(self::BEGIN, pack('nCx5', 1, 0)) . self::record(self::PARAMS, '') . self::record(self::STDIN, ''));
            $worker->answer(FastCgiRequest::receive($near) ?? self::fail('no request'));
        }
        self::assertSame(10, $files(), 'what may still be asked for is there');
        (new Filesystem())->remove($dir);
    }

    /**
     * One answer through a worker over a real socket.
     *
     * @param \Closure(): Response $answer
     * @param int|null             $hangUpAfter the other side goes when it has taken so much
     *
     * @return array{string, bool} the text after the head, and whether the protocol was brought to its end
     */
    private function exchange(\Closure $answer, ?int $hangUpAfter): array
    {
        $sockets = stream_socket_pair(STREAM_PF_UNIX, STREAM_SOCK_STREAM, 0);
        self::assertIsArray($sockets);
        [$near, $far] = $sockets;
        fwrite(
            $far,
            self::record(self::BEGIN, pack('nCx5', 1, 0)) .
                self::record(self::PARAMS, self::pair('REQUEST_URI', '/')) .
                self::record(self::PARAMS, '') .
                self::record(self::STDIN, ''),
        );
        $pid = pcntl_fork();
        if ($pid === 0) {
            // The other side: takes what comes, into a file.
            fclose($near);
            $taken = '';
            while (($more = fread($far, 8_192)) !== '' && $more !== false && ($hangUpAfter === null || strlen($taken) < $hangUpAfter)) {
                $taken .= $more;
            }
            file_put_contents("{$_SERVER['OLIVINE_STATE_DIR']}/taken", $taken);
            posix_kill((int) getmypid(), SIGKILL);
        }
        fclose($far);
        $kernel = self::createStub(KernelInterface::class);
        $kernel->method('handle')->willReturnCallback(static fn(): Response => $answer());
        (new WebWorker(
            $kernel,
            self::createStub(Connection::class),
            self::createStub(ManagerRegistry::class),
            new NullLogger(),
            static fn(): ArrayAdapter => new ArrayAdapter(),
            new WorkTime(),
        ))->answer(FastCgiRequest::receive($near) ?? self::fail('no request'));
        pcntl_waitpid($pid, $status);
        $records = (string) file_get_contents("{$_SERVER['OLIVINE_STATE_DIR']}/taken");
        $text = '';
        $ended = false;
        for ($at = 0; $at + 8 <= strlen($records); $at += 8 + $length) {
            $type = ord($records[$at + 1]);
            $length = (ord($records[$at + 4]) << 8) | ord($records[$at + 5]);
            $text .= $type === self::STDOUT ? substr($records, $at + 8, $length) : '';
            $ended = $type === self::END;
        }

        return [explode("\r\n\r\n", $text, 2)[1] ?? '', $ended];
    }

    private static function record(int $type, string $content, int $padding = 0): string
    {
        return pack('CCnnCx', 1, $type, 1, strlen($content), $padding) . $content . str_repeat("\0", $padding);
    }

    private static function pair(string $name, string $value): string
    {
        $length = static fn(string $text): string => strlen($text) < 128 ? chr(strlen($text)) : pack('N', strlen($text) | 0x80000000);

        return $length($name) . $length($value) . $name . $value;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Repository\JobRunRepository;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** Jobs over the API: they report as anybody's script would, and the running collector notes how they stand. */
final class JobApiTest extends TestCase
{
    private Client $ines;
    private string $reports;
    /** @var list<int> */
    private array $made = [];

    protected function setUp(): void
    {
        $this->ines = new Client('ines@saltmarsh.example');
        $this->reports = sys_get_temp_dir() . '/reports-' . bin2hex(random_bytes(4));
    }

    protected function tearDown(): void
    {
        foreach ($this->made as $id) {
            $this->ines->send('DELETE', "/api/targets/{$id}", []);
        }
        array_map(unlink(...), glob("{$this->reports}/*") ?: []);
        is_dir($this->reports) && rmdir($this->reports);
    }

    /** Begun, ended, failed with what it printed; its readings are there for charts and rules. */
    public function testWhatAJobReports(): void
    {
        [$id, $address] = $this->job(['everySeconds' => 3_600, 'longestSeconds' => 60]);
        self::assertSame('waiting', $this->state($id)['verdict']);
        self::assertSame(200, self::reported("{$address}/began?run=a"));
        self::assertSame(['running', null], [$this->state($id)['verdict'], $this->runs($id)[0]['outcome']]);
        self::assertSame(200, self::reported("{$address}/began?run=a"), 'said twice it counts once');
        self::assertSame(200, self::reported("{$address}/ended?run=a"));
        self::assertSame(['well', 1, 'done'], [$this->state($id)['verdict'], count($this->runs($id)), $this->runs($id)[0]['outcome']]);
        self::assertSame(200, self::reported("{$address}/failed?run=b&exit=7", "reading …\nthe disk is full\n", 'PUT'));
        $state = $this->state($id);
        self::assertSame(['failing', true, 'Its last run failed with exit code 7'], [$state['verdict'], $state['needsSomebody'], $state['words']]);
        $run = $this->runs($id)[1]['id'];
        self::assertSame("reading …\nthe disk is full\n", $this->ines->send('GET', "/api/runs/{$run}")[1]['output']);
        $viewer = new Client('viewer@saltmarsh.example');
        self::assertSame(403, $viewer->send('GET', "/api/runs/{$run}")[0]);
        self::assertNull($viewer->send('GET', "/api/jobs/{$id}")[1]['address'], 'who may not report does not see where');

        self::assertSame(200, self::reported("{$address}/began", method: 'GET'));
        self::assertSame(200, self::reported("{$address}/ended", method: 'GET'), 'without a name it is the one that began last');
        self::assertSame(['well', 3], [$this->state($id)['verdict'], count($this->runs($id))]);
        $late = (time() - 3_600) * 1000;
        self::assertSame(200, self::reported("{$address}/ended?run=c&at={$late}"));
        self::assertSame(200, self::reported("{$address}/began?run=c&at=" . ($late - 10_000)));
        $first = $this->runs($id)[0];
        self::assertSame([$late - 10_000, $late], [$first['beganAt'], $first['endedAt']], 'what comes late and turned round stands where it was');

        $name = $this->ines->send('GET', "/api/jobs/{$id}")[1]['job']['settings']['name'];
        $formula = rawurlencode("job_run_seconds where target = \"{$name}\"");
        $span = fn(): string => '&from=' . ((time() - 300) * 1000) . '&to=' . (time() * 1000);
        $curve = fn(): array => $this->ines->send('GET', "/api/chart?formula={$formula}{$span()}")[1]['lines'] ?? [];
        Instance::eventually(static fn(): bool => count($curve()) === 1, 60, 'its readings are there');
    }

    public function testWhatIsNotTaken(): void
    {
        [$id, $address] = $this->job(['everySeconds' => 3_600]);
        self::assertSame(404, self::reported(str_replace('/in/job/', '/in/job/x', $address) . '/began'), 'nobody\'s address');
        self::assertSame(404, self::reported("{$address}/explode"));
        self::assertSame(422, self::reported("{$address}/began?run=" . rawurlencode('a b')));
        self::assertSame(422, self::reported("{$address}/began?at=yesterday"));
        self::assertSame(422, self::reported("{$address}/began?at=1000"), 'too long ago');
        self::assertSame(413, self::reported("{$address}/failed", str_repeat('x', 1_000_001)));
        self::assertSame(200, self::reported("{$address}/failed", "\xff\xfe" . random_bytes(200)), 'what it prints may be anything');
        self::assertSame(404, $this->ines->send('GET', '/api/runs/999999999')[0]);
        self::assertSame(204, $this->ines->send('POST', "/api/jobs/{$id}/address", [])[0]);
        self::assertSame(404, self::reported("{$address}/began"), 'another address: the one before is nobody\'s');
        $next = $this->ines->send('GET', "/api/jobs/{$id}")[1]['address'];
        self::assertSame(204, $this->ines->send('DELETE', "/api/targets/{$id}", [])[0]);
        self::assertSame(404, self::reported("{$next}/began"), 'nor is that of a job that was removed');
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function badJobs(): iterable
    {
        yield 'no schedule' => [[], 'cron'];
        yield 'two of them' => [['cron' => '30 2 * * *', 'everySeconds' => 60], 'cron'];
        yield 'no cron expression' => [['cron' => 'at noon'], 'cron'];
        yield 'a day that never comes' => [['cron' => '0 0 31 2 *'], 'cron'];
        yield 'no zone' => [['cron' => '30 2 * * *', 'zone' => 'Europe/Skarn'], 'zone'];
        yield 'too often' => [['everySeconds' => 5], 'everySeconds'];
        yield 'a grace without end' => [['everySeconds' => 60, 'graceSeconds' => 10_000_000], 'graceSeconds'];
        yield 'a name that is none' => [['everySeconds' => 60, 'name' => '{{x}}'], 'name'];
        yield 'a name that is taken' => [['everySeconds' => 60, 'name' => 'broker-north'], 'name'];
    }

    /** @param array<string, mixed> $fields */
    #[DataProvider('badJobs')]
    public function testWhatIsNoJob(array $fields, string $field): void
    {
        [$status, $problem] = $this->ines->send('POST', '/api/jobs', $fields + ['name' => 'tried ' . bin2hex(random_bytes(3))]);
        self::assertSame([422, $field], [$status, $problem['field'] ?? null]);
    }

    /** Two who change it do not overwrite each other; a job is changed as a job, and a viewer changes none. */
    public function testChanges(): void
    {
        [$id] = $this->job(['cron' => '30 2 * * 1-5', 'zone' => 'Europe/Lisbon']);
        $settings = $this->ines->send('GET', "/api/jobs/{$id}")[1]['job']['settings'];
        self::assertSame('Monday to Friday at 02:30 Europe/Lisbon', $settings['schedule']);
        $change = ['name' => $settings['name'], 'everySeconds' => 900, 'version' => $settings['version']];
        self::assertSame(200, $this->ines->send('PUT', "/api/jobs/{$id}", $change)[0]);
        self::assertSame(409, $this->ines->send('PUT', "/api/jobs/{$id}", $change)[0]);
        self::assertSame(409, $this->ines->change("/api/targets/{$id}", ['url' => 'http://web-1/', 'name' => 'x'])[0]);
        self::assertSame(403, (new Client('viewer@saltmarsh.example'))->send('PUT', "/api/jobs/{$id}", $change)[0]);
        self::assertSame(422, $this->ines->send('GET', '/api/jobs?days=900')[0]);
    }

    /** What is kept of one that cannot be read any more stays with it: it is shown, said, and the others go on. */
    public function testOneThatCannotBeReadStopsNoOther(): void
    {
        [$id] = $this->job(['everySeconds' => 3_600]);
        [$other] = $this->job(['everySeconds' => 3_600]);
        $database = Instance::connect();
        $seen = static fn(int $of): mixed => $database->fetchOne(
            'SELECT message FROM target_status WHERE target_id = ? AND at > ?',
            [$of, (time() - 30) * 1000],
        );
        $database->executeStatement('UPDATE target SET asks = ? WHERE id = ?', ['{"cron": 5, "shape": [[]]}', $id]);
        Instance::eventually(static fn(): bool => str_contains((string) $seen($id), 'How it stands cannot be told'), 60, 'it is said');
        Instance::eventually(static fn(): bool => $seen($other) === '', 60, 'the others go on');
        $jobs = $this->ines->send('GET', '/api/jobs')[1];
        self::assertContains($id, array_column($jobs['unread'], 'id'));
        self::assertContains($other, array_map(static fn(array $one): int => $one['settings']['id'], $jobs['jobs']));
    }

    /** However often it reports: its last runs are kept, and what the last of these printed. */
    public function testWhatIsKeptOfAJobIsBounded(): void
    {
        [$id] = $this->job(['everySeconds' => 3_600]);
        $managers = Instance::managers();
        $connection = Instance::manager($managers)->getConnection();
        $connection->beginTransaction();
        try {
            for ($i = 1; $i <= 12; ++$i) {
                $run = ['target_id' => $id, 'began_at' => $i, 'ended_at' => $i, 'outcome' => 'done', 'output' => (string) gzdeflate('x')];
                $connection->insert('job_run', $run);
            }
            (new JobRunRepository($managers))->forgetBeyond(10, 4);
            $kept = $connection->fetchAllKeyValue('SELECT began_at, output IS NOT NULL FROM job_run WHERE target_id = ? ORDER BY began_at', [$id]);
            self::assertSame([range(3, 12), 4], [array_keys($kept), (int) array_sum($kept)]);
        } finally {
            $connection->rollBack();
        }
    }

    /** The command that wraps another: output, exit code and what is read pass through, and it is reported. */
    public function testTheCommandThatReports(): void
    {
        [$id, $address] = $this->job(['everySeconds' => 3_600]);
        $process = $this->command($address, ['sh', '-c', 'cat; echo seen >&2; exit 3'], "what goes in\n");
        self::assertSame([3, "what goes in\n", "seen\n"], [$process->getExitCode(), $process->getOutput(), $process->getErrorOutput()]);
        $run = $this->runs($id)[0];
        self::assertSame(['failed', 3], [$run['outcome'], $run['exitCode']]);
        self::assertStringContainsString('seen', $this->ines->send('GET', "/api/runs/{$run['id']}")[1]['output']);
        self::assertSame(0, $this->command($address, ['true'])->getExitCode());
        self::assertSame(143, $this->command($address, ['sh', '-c', 'kill -TERM $$'])->getExitCode(), 'a signal is told as one');
        self::assertSame(127, $this->command($address, ['there-is-no-such-command'])->getExitCode());
        self::assertSame(['failed', 'done', 'failed', 'failed'], array_column($this->runs($id), 'outcome'));
    }

    /** Where nobody is there to be told, the job runs all the same, and is told of later with the times at which it ran. */
    public function testWhatCannotBeToldNowIsToldLater(): void
    {
        [$id, $address] = $this->job(['everySeconds' => 3_600]);
        $gate = stream_socket_server('tcp://127.0.0.1:0');
        self::assertIsResource($gate);
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($gate, false), ':'), 1);
        fclose($gate);
        $away = (string) preg_replace('~//[^/]+~', "//127.0.0.1:{$port}", $address);
        $began = microtime(true);
        $process = $this->command($away, ['sh', '-c', 'echo ran']);
        $took = microtime(true) - $began;
        self::assertSame([0, "ran\n"], [$process->getExitCode(), $process->getOutput()]);
        self::assertLessThan(20.0, $took, 'it is not held up');
        self::assertSame([], $this->runs($id));
        sleep(2);
        // What answers at that port from now on hands everything on to Olivine.
        $relay = new Process(['php', '-r', self::RELAY, (string) $port, (string) parse_url($address, PHP_URL_PORT)]);
        $relay->start();
        try {
            Instance::eventually(fn(): bool => ($this->runs($id)[0]['outcome'] ?? null) === 'done', 90, 'it is told');
        } finally {
            $relay->stop(0);
        }
        $run = $this->runs($id)[0];
        self::assertEqualsWithDelta($began * 1000, $run['beganAt'], 2_000, 'with its own times');
        self::assertCount(1, $this->runs($id));
    }

    /** Takes one connection after the other and hands it on. */
    private const RELAY = <<<'PHP'
        $server = stream_socket_server("tcp://127.0.0.1:{$argv[1]}");
        while (($one = stream_socket_accept($server, 600)) !== false) {
            $other = stream_socket_client("tcp://127.0.0.1:{$argv[2]}");
            fwrite($other, fread($one, 65536));
            stream_set_timeout($other, 10);
            while (!feof($other) && ($text = fread($other, 65536)) !== '' && $text !== false) {
                fwrite($one, $text);
                if (strpos($text, 'noted') !== false) { break; }
            }
            fclose($one);
            fclose($other);
        }
        PHP;

    /** @param list<string> $command */
    private function command(string $address, array $command, string $input = ''): Process
    {
        $process = new Process(
            [PHP_BINARY, dirname(__DIR__, 2) . '/agent/run.php', "--to={$address}", '--', ...$command],
            env: ['OLIVINE_REPORTS' => $this->reports],
            input: $input,
            timeout: 60,
        );
        $process->run();

        return $process;
    }

    /**
     * @param array<string, mixed> $fields
     *
     * @return array{int, string} its id, and where it reports
     */
    private function job(array $fields): array
    {
        [$status, $job, $text] = $this->ines->send('POST', '/api/jobs', $fields + ['name' => 'tried ' . bin2hex(random_bytes(4))]);
        self::assertSame(201, $status, $text);
        $this->made[] = $job['id'];

        return [$job['id'], $this->ines->send('GET', "/api/jobs/{$job['id']}")[1]['address']];
    }

    /** @return array<string, mixed> */
    private function state(int $id): array
    {
        return $this->ines->send('GET', "/api/jobs/{$id}")[1]['job']['state'];
    }

    /**
     * @return list<array<string, mixed>>
     *
     * @phpstan-impure they come as time goes by
     */
    private function runs(int $id): array
    {
        return $this->ines->send('GET', "/api/jobs/{$id}")[1]['job']['runs'];
    }

    private static function reported(string $url, string $output = '', string $method = 'POST'): int
    {
        $context = stream_context_create(['http' => [
            'method' => $method,
            'header' => 'Content-Type: text/plain',
            'content' => $output,
            'timeout' => 30,
            'ignore_errors' => true,
        ]]);
        file_get_contents($url, false, $context);

        return (int) explode(' ', $http_response_header[0] ?? '')[1];
    }
}

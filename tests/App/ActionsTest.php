<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Demo\DemoChannels;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;
use Symfony\Component\Process\Process;

/** What is prepared is done by whoever may, about what it concerns, once; what came of it stands on the trail. */
final class ActionsTest extends TestCase
{
    use MadeUpAlerts {
        tearDown as letGo;
    }

    private const SECRET = 'an agent and its owner';

    private Client $admin;
    private ?Process $agent = null;

    protected function assertPreConditions(): void
    {
        $this->admin = new Client('admin@saltmarsh.example');
    }

    protected function tearDown(): void
    {
        $this->agent?->stop(1);
        foreach ($this->admin->send('GET', '/api/actions')[1] as $action) {
            if (str_contains($action['name'], $this->service)) {
                $this->admin->send('DELETE', "/api/actions/{$action['id']}", []);
            }
        }
        $this->letGo();
    }

    public function testIsDoneAboutAnIncidentByWhoeverMay(): void
    {
        $incident = $this->opened();
        $fleet = 'http://127.0.0.1:' . Instance::port(2) . '/act';
        $mends = $this->prepared('mends', ['url' => $fleet, 'secret' => DemoChannels::ACTION_SECRET, 'matching' => "service = \"{$this->service}\""]);
        $others = $this->prepared('elsewhere', ['url' => $fleet, 'matching' => 'service = "nothing-of-this"']);
        $grave = $this->prepared('grave', ['url' => $fleet, 'matching' => 'queue = "q"', 'role' => 'administrator']);
        $about = $this->engineer->send('GET', "/api/incidents/{$incident}/actions")[1];
        self::assertSame([[$grave['name'], false], [$mends['name'], true]], array_map(
            static fn(array $one): array => [$one['name'], $one['may']],
            array_values(array_filter($about['actions'], fn(array $one): bool => str_contains($one['name'], $this->service))),
        ));

        self::assertSame($fleet, self::named($this->admin->send('GET', '/api/actions')[1], $mends['name'])['url']);
        self::assertSame('127.0.0.1', self::named($about['actions'], $mends['name'])['url'], 'an address may hold a secret');

        [$status, $run, $text] = $this->runs($mends, $incident);
        self::assertSame(200, $status, $text);
        self::assertSame([false, 'answered with status 422: Nothing here is called so'], [$run['done'], $run['output']], 'broker-test is none of the fleet');
        $trail = $this->trail($incident);
        self::assertMatchesRegularExpression('~Ines Duarte ran [^:]+: failed after [^:]+: answered with status 422~', $trail);
        $audited = "SELECT COUNT(*) FROM audit_entry WHERE action = 'ran' AND subject = ?";
        self::assertSame(1, (int) $this->database->fetchOne($audited, ["action {$mends['name']}"]));

        self::assertSame([403, 409, 409], [
            $this->runs($grave, $incident)[0],
            $this->runs($others, $incident)[0],
            $this->runs(['version' => 9] + $mends, $incident)[0],
        ]);
        $viewer = new Client('viewer@saltmarsh.example');
        self::assertSame(403, $viewer->send('POST', "/api/actions/{$mends['id']}/run", ['version' => 1, 'incident' => $incident])[0]);
        self::assertSame(422, $this->engineer->send('POST', "/api/actions/{$mends['id']}/run", ['version' => 1])[0], 'about nothing');
        self::assertSame(403, $this->engineer->send('POST', '/api/actions', $this->fields('x', []))[0], 'only administrators prepare them');

        // Nobody listens; nothing of it is raised any more.
        $nowhere = $this->prepared('nowhere', ['url' => 'http://127.0.0.1:' . Instance::port(77) . '/']);
        self::assertSame([false, 'nobody listens there'], [($run = $this->runs($nowhere, $incident)[1])['done'], $run['output']]);
        $this->engineer->send('POST', "/api/incidents/{$incident}/resolve", []);
        self::assertSame(409, $this->runs($mends, $incident)[0]);
        self::assertSame(
            [$nowhere['name'], $mends['name']],
            array_column($this->engineer->send('GET', "/api/incidents/{$incident}/actions")[1]['runs'], 'name'),
        );
    }

    /** On a target's own page, by the agent of a machine: only what its owner allowed, as it stands there, once for one request. */
    public function testAnAgentRunsWhatItAllows(): void
    {
        $mark = sys_get_temp_dir() . "/{$this->service}";
        $file = "{$mark}.yaml";
        file_put_contents($file, 'secret: ' . self::SECRET . "\ncommands:\n  mark: [sh, -c, 'echo marked >> {$mark}; cat {$mark}']\n"
            . "  fails: [sh, -c, 'echo no >&2; exit 3']\n  gone: [/no/such/program]\n");
        $port = Instance::port(78);
        $this->agent = new Process([PHP_BINARY, 'agent/agent.php', "--port={$port}", "--allow={$file}"], dirname(__DIR__, 2));
        $this->agent->start();
        $url = "http://127.0.0.1:{$port}/run";
        Instance::eventually(static fn(): bool => @fsockopen('127.0.0.1', $port) !== false, 20, 'the agent listens');
        $target = $this->database->fetchAssociative("SELECT id, name FROM target WHERE name = 'broker-north'") ?: [];
        $about = ['url' => $url, 'secret' => self::SECRET, 'matching' => 'target = "broker-north"'];
        $run = fn(string $command): array => $this->engineer->send(
            'POST',
            '/api/actions/' . ($made = $this->prepared("runs {$command}", ['command' => $command] + $about))['id'] . '/run',
            ['version' => $made['version'], 'target' => $target['id']],
        )[1];
        try {
            self::assertSame([true, "exit 0\nmarked"], [($marked = $run('mark'))['done'], $marked['output']]);
            self::assertSame([false, "exit 3\nno"], [($fails = $run('fails'))['done'], $fails['output']]);
            self::assertSame([false, 127], [($gone = $run('gone'))['done'], (int) substr($gone['output'], 5, 3)]);
            self::assertStringContainsString('allows no command other; it allows mark, fails, gone', $run('other')['output']);
            $shown = $this->engineer->send('GET', "/api/targets/{$target['id']}/actions")[1]['runs'];
            self::assertContains("runs mark {$this->service}", array_column($shown, 'name'));

            // The same request once more is done no second time; what is signed otherwise, or old, not at all.
            $body = json_encode(['id' => 'once', 'command' => 'mark'], JSON_THROW_ON_ERROR);
            $asked = static fn(string $secret, int $time): array => [
                ($answer = HttpClient::create()->request('POST', $url, ['body' => $body, 'headers' => [
                    'Olivine-Time' => (string) $time, 'Olivine-Signature' => 'sha256=' . hash_hmac('sha256', "{$time}.{$body}", $secret),
                ]]))->getStatusCode(),
                trim($answer->getContent(false)),
            ];
            $once = '{"exit":0,"output":"marked\nmarked\n"}';
            self::assertSame([[200, $once], [200, $once]], [$asked(self::SECRET, time()), $asked(self::SECRET, time())]);
            self::assertSame([401, 401], [$asked('somebody else knows another', time())[0], $asked(self::SECRET, time() - 400)[0]]);
            self::assertSame("marked\nmarked\n", file_get_contents($mark));
            $metrics = HttpClient::create()->request('GET', "http://127.0.0.1:{$port}/metrics");
            self::assertSame(200, $metrics->getStatusCode(), 'its metrics as before');
        } finally {
            array_map(unlink(...), array_filter([$file, $mark], is_file(...)));
        }
    }

    public function testWhatCannotBePreparedIsSaid(): void
    {
        $this->prepared('there', []);
        foreach (
            [
                [['name' => "there {$this->service}"], 'name', 'There is an action named'],
                [['matching' => 'service ='], 'matching', 'matching: '],
                [['url' => 'ftp://x'], 'url', 'url '],
                [['url' => 'http://169.254.169.254/latest'], 'url', ''],
                [['command' => 'rm -rf /'], 'command', 'restart-consumers'],
                [['secret' => 'short'], 'secret', 'at least 16'],
                [['role' => 'nobody'], 'role', 'role'],
            ] as [$wrong, $field, $words]
        ) {
            [$status, $problem, $text] = $this->admin->send('POST', '/api/actions', $wrong + $this->fields('wrong', []));
            self::assertSame([422, $field], [$status, $problem['field'] ?? null], $text);
            self::assertStringContainsString($words, $problem['title']);
        }
        $of = $this->prepared('changed', []);
        self::assertNull($of['secret']);
        $anew = fn(int $version): int => $this->admin->send('PUT', "/api/actions/{$of['id']}", ['version' => $version] + $this->fields('changed', []))[0];
        self::assertSame([200, 409], [$anew(1), $anew(9)]);
    }

    /**
     * @param array<array-key, mixed> $all
     *
     * @return array<string, mixed>
     */
    private static function named(array $all, string $name): array
    {
        return array_column($all, null, 'name')[$name];
    }

    /**
     * @param array<string, mixed> $beside
     *
     * @return array<string, mixed>
     */
    private function fields(string $name, array $beside): array
    {
        return $beside + [
            'name' => "{$name} {$this->service}", 'words' => 'It does it.', 'matching' => 'queue = "q"', 'secret' => self::SECRET,
            'url' => 'http://127.0.0.1:' . Instance::port(2) . '/act', 'command' => '', 'role' => 'engineer',
        ];
    }

    /**
     * @param array<string, mixed> $beside
     *
     * @return array<string, mixed>
     */
    private function prepared(string $name, array $beside): array
    {
        [$status, $action, $text] = $this->admin->send('POST', '/api/actions', $this->fields($name, $beside));
        self::assertSame(201, $status, $text);

        return $action;
    }

    /**
     * @param array<string, mixed> $action
     *
     * @return array{int, array<array-key, mixed>, string}
     */
    private function runs(array $action, int $incident): array
    {
        return $this->engineer->send('POST', "/api/actions/{$action['id']}/run", ['version' => $action['version'], 'incident' => $incident]);
    }

    private function opened(): int
    {
        $rule = $this->rule('Stuck queue', 'major');
        $this->happens($rule, 'q', 'building', 'raised', 'major', 900);
        $found = fn(): mixed => $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        Instance::eventually(fn(): bool => $found() !== false && $this->database->fetchOne(
            'SELECT 1 FROM incident_alert WHERE incident_id = ?',
            [$found()],
        ) !== false, 40, 'there is an incident');

        return (int) $found();
    }

    private function trail(int $incident): string
    {
        return implode("\n", array_column($this->engineer->send('GET', "/api/incidents/{$incident}")[1]['trail'], 'words'));
    }
}

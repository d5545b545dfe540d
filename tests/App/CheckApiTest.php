<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Check\CheckStates;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Checks over the API, asked by the running collector. */
final class CheckApiTest extends TestCase
{
    private Client $ines;
    private string $front;
    /** @var list<int> */
    private array $made = [];

    protected function setUp(): void
    {
        $this->ines = new Client('ines@saltmarsh.example');
        $this->front = 'http://127.0.0.1:' . Instance::port(2);
    }

    protected function tearDown(): void
    {
        foreach ($this->made as $id) {
            $this->ines->send('DELETE', "/api/targets/{$id}", []);
        }
    }

    /** Tried, saved, asked, broken, with evidence, mended; its readings are there for charts and rules, with their place. */
    public function testFromATrialToEvidence(): void
    {
        $body = $this->body(['name' => 'gate desk ' . bin2hex(random_bytes(3)), 'intervalSeconds' => 5]);
        [$status, $trial] = $this->ines->send('POST', '/api/checks/try', $body);
        self::assertSame([200, 'runs', ''], [$status, $trial['verdict'], $trial['words']]);
        self::assertStringContainsString('GET', $trial['steps'][0]['sent']);
        self::assertContains('waiting_cars', array_column($trial['readings'], 'metric'));
        self::assertSame([17_280, 17_280 * count($trial['readings'])], [$trial['requestsADay'], $trial['readingsADay']]);
        $check = $this->add($body);
        $url = "/api/checks/{$check['id']}";
        $state = fn(): array => $this->ines->send('GET', $url)[1]['check']['states'][0] ?? [];
        Instance::eventually(static fn(): bool => ($state()['verdict'] ?? '') === 'runs', 30, 'it was asked');
        try {
            Instance::fleet('/break', 'error', 'gates');
            Instance::eventually(static fn(): bool => $state()['verdict'] === 'down', 30, 'it is down');
            $page = $this->ines->send('GET', $url)[1];
            self::assertSame('It answered with status 503 (expected status in 200..299)', $state()['words']);
            [$status, $seen] = $this->ines->send('GET', "/api/evidence/{$page['evidence'][0]['id']}");
            self::assertSame([200, "The pier is closed for the moment\n", 503], [$status, $seen['text'], $seen['steps'][0]['status']]);
            self::assertSame(403, (new Client('viewer@saltmarsh.example'))->send('GET', "/api/evidence/{$page['evidence'][0]['id']}")[0]);
            sleep(11);
            self::assertCount(1, $this->ines->send('GET', $url)[1]['evidence'], 'the same again is kept once');
        } finally {
            Instance::fleet('/heal', 'error', 'gates');
        }
        Instance::eventually(static fn(): bool => $state()['verdict'] === 'runs', 30, 'and is well again');
        $formula = rawurlencode("min(min(check_runs where target = \"{$check['name']}\", 5m)) per place");
        $curve = $this->ines->send('GET', "/api/chart?formula={$formula}&from=" . ((time() - 600) * 1000) . '&to=' . (time() * 1000) . '&points=50')[1];
        self::assertSame([['place' => 'centre']], array_column($curve['lines'], 'labels'));
        self::assertContains(0, array_map(intval(...), array_filter($curve['lines'][0]['values'], is_numeric(...))));

        $asked = count(explode(' ', $state()['ticks']));
        self::assertSame(200, $this->ines->send('POST', "/api/targets/{$check['id']}/pause", ['paused' => true])[0]);
        self::assertSame(409, $this->ines->send('POST', "{$url}/run", [])[0], 'a paused one is not asked');
        $this->ines->send('POST', "/api/targets/{$check['id']}/pause", ['paused' => false]);
        $slow = $this->ines->send('PUT', $url, ['intervalSeconds' => 86_400] + $body + ['version' => $this->ines->send('GET', $url)[1]['check']['version']]);
        self::assertSame(200, $slow[0], $slow[2]);
        sleep(3);
        $before = $state()['at'];
        self::assertSame(204, $this->ines->send('POST', "{$url}/run", [])[0]);
        Instance::eventually(static fn(): bool => $state()['at'] > $before, 20, 'it is asked now');
        self::assertGreaterThan(2, $asked);
        self::assertSame(409, $this->ines->send('PUT', $url, $body + ['version' => 1])[0], 'somebody changed it meanwhile');
        $version = $this->ines->send('GET', $url)[1]['check']['version'];
        $other = ['asks' => ['kind' => 'tcp', 'host' => '127.0.0.1', 'port' => Instance::port(2)]] + $body;
        [$status, $problem] = $this->ines->send('PUT', $url, $other + ['version' => $version]);
        self::assertSame([422, 'asks'], [$status, $problem['field'] ?? null], 'it stays what it is');
        $asTarget = $this->ines->change("/api/targets/{$check['id']}", ['url' => 'http://web-1/', 'name' => 'x']);
        self::assertSame(409, $asTarget[0], 'it is no target that is scraped');
    }

    /** What is past its time goes, what is more than one check may keep, and what is more than all may keep: the oldest first. */
    public function testEvidenceIsBounded(): void
    {
        $database = Instance::emptyDatabase('evidence');
        $rows = [];
        for ($i = 1; $i <= 250; ++$i) {
            $rows[] = [1, 1, $i * 1_000, 'down', 'away', 0.1, '[]', null, 100];
        }
        for ($i = 1; $i <= 20; ++$i) {
            $rows[] = [2, 1, $i * 10_000 + 5, 'down', 'away', 0.1, '[]', null, 1_000];
        }
        $database->insertNew('evidence', ['target_id', 'place', 'at', 'verdict', 'words', 'seconds', 'steps', 'kept', 'bytes'], $rows);
        $states = new CheckStates($database);
        $left = static fn(int $target): array => $database->connection->fetchFirstColumn('SELECT at FROM evidence WHERE target_id = ? ORDER BY at', [$target]);
        $states->forgetBefore(20_000);
        self::assertSame([200, 51_000, 19], [count($left(1)), (int) $left(1)[0], count($left(2))]);
        // The newest hold 50 times 100 and 5 times 1,000 from 201 s on.
        $states->forgetBefore(20_000, 10_000);
        $bytes = (int) $database->connection->fetchOne('SELECT SUM(bytes) FROM evidence');
        self::assertLessThanOrEqual(10_000, $bytes);
        self::assertGreaterThan(8_000, $bytes, 'no more goes than must');
        self::assertSame(250_000, (int) ($left(1)[count($left(1)) - 1] ?? 0), 'the newest stay');
    }

    /** Secrets are filled in, told to nobody, and not taken along to another server. */
    public function testSecretsStayWhereTheyWereEnteredFor(): void
    {
        $steps = [
            ['name' => 'login', 'method' => 'POST', 'url' => "{$this->front}/shop/login", 'body' => '{"user": "passenger", "password": "{password}"}'],
        ];
        $body = $this->body(['steps' => $steps, 'secrets' => [['name' => 'password', 'value' => 'two-bells']]]);
        self::assertSame('runs', $this->ines->send('POST', '/api/checks/try', $body)[1]['verdict']);
        $check = $this->add($body);
        self::assertSame(['password'], $check['secrets']);
        $kept = ['secrets' => [['name' => 'password']]];
        [, $trial, $text] = $this->ines->send('POST', '/api/checks/try', $kept + $body + ['id' => $check['id']]);
        self::assertSame('runs', $trial['verdict']);
        self::assertStringNotContainsString('two-bells', $text . $this->ines->send('GET', "/api/checks/{$check['id']}")[2]);
        $steps[0]['url'] = 'http://127.0.0.1:9/shop/login';
        [$status, $problem] = $this->ines->send('POST', '/api/checks/try', $kept + $this->body(['steps' => $steps]) + ['id' => $check['id']]);
        self::assertSame([422, 'secrets'], [$status, $problem['field']]);
        self::assertStringContainsString('enter them again', $problem['title']);
        self::assertSame(403, (new Client('viewer@saltmarsh.example'))->send('POST', '/api/checks/try', $body)[0]);
    }

    /** The parts that ask have an account of their own, which may send pings all the same. */
    public function testAPingIsSentByWhoeverAsks(): void
    {
        $body = ['name' => 'way ' . bin2hex(random_bytes(3)), 'intervalSeconds' => 5, 'asks' => ['kind' => 'ping', 'host' => '127.0.0.1', 'count' => 2]];
        [$status, $trial, $text] = $this->ines->send('POST', '/api/checks/try', $body);
        self::assertSame([200, 'runs', ''], [$status, $trial['verdict'], $trial['words']], $text);
        $check = $this->add($body);
        $state = fn(): array => $this->ines->send('GET', "/api/checks/{$check['id']}")[1]['check']['states'][0] ?? [];
        Instance::eventually(static fn(): bool => $state() !== [], 30, 'it was asked');
        self::assertSame(['runs', ''], [$state()['verdict'], $state()['words']]);
    }

    /** A database is asked with a password that is shown to nobody, and entered again where it would go elsewhere. */
    public function testADatabaseIsAskedWithItsPassword(): void
    {
        $asks = ['kind' => 'sql', 'engine' => 'mariadb', 'host' => '127.0.0.1', 'port' => 9, 'user' => 'reader', 'query' => 'SELECT 1 AS berths'];
        $secret = ['name' => 'password', 'value' => 'three-bells'];
        $body = ['name' => 'berths ' . bin2hex(random_bytes(3)), 'intervalSeconds' => 5, 'asks' => $asks, 'secrets' => [$secret]];
        [$status, $trial, $text] = $this->ines->send('POST', '/api/checks/try', $body);
        self::assertSame([200, 'down'], [$status, $trial['verdict']], $text);
        self::assertStringContainsString('refused', $trial['words']);
        $check = $this->add($body);
        self::assertSame(['password'], $check['secrets']);
        $kept = ['secrets' => [['name' => 'password']], 'id' => $check['id']] + $body;
        self::assertSame(200, $this->ines->send('POST', '/api/checks/try', $kept)[0]);
        foreach ([['user' => 'root'], ['host' => 'localhost'], ['port' => 10], ['engine' => 'postgresql']] as $other) {
            [$status, $problem] = $this->ines->send('POST', '/api/checks/try', ['asks' => $other + $asks] + $kept);
            self::assertSame([422, 'secrets'], [$status, $problem['field']]);
        }
        $refused = ['query' => 'DROP TABLE x', 'database' => 'berths;host=10.0.0.1', 'user' => 'reader password=x'];
        foreach ($refused as $field => $value) {
            [$status, $problem] = $this->ines->send('POST', '/api/checks/try', ['asks' => [$field => $value] + $asks] + $kept);
            self::assertSame([422, "asks.{$field}"], [$status, $problem['field']]);
        }
        self::assertStringNotContainsString('three-bells', $text . $this->ines->send('GET', "/api/checks/{$check['id']}")[2]);
        $evidence = fn(): array => $this->ines->send('GET', "/api/checks/{$check['id']}")[1]['evidence'];
        Instance::eventually(static fn(): bool => count($evidence()) === 2, 40, 'the way there comes along the next time');
        $steps = $this->ines->send('GET', "/api/evidence/{$evidence()[0]['id']}")[1]['steps'];
        self::assertSame(['', 'the way there'], array_column($steps, 'name'));
        self::assertMatchesRegularExpression('~^ 1  127\.0\.0\.1  [\d.]+ ms$~', $steps[1]['head']);
    }

    /** @return iterable<string, array{array<string, mixed>, non-empty-string, string}> what is sent, the field, some of the words */
    public static function faults(): iterable
    {
        $step = static fn(array $of): array => ['steps' => [$of + ['url' => 'http://web-1:9105/']]];
        yield 'no name' => [['name' => ''], 'name', 'begin with a letter'];
        yield 'too often' => [['intervalSeconds' => 1], 'intervalSeconds', 'from 5 to 86400'];
        yield 'a place that is none' => [['places' => [99]], 'places', 'no place 99'];
        yield 'no address' => [$step(['url' => 'web-1']), 'asks.steps[0].url', 'whole http'];
        yield 'an address with a password' => [$step(['url' => 'http://a:b@web-1/']), 'asks.steps[0].url', 'user or password'];
        yield 'metadata' => [$step(['url' => 'http://169.254.169.254/']), 'asks.steps[0].url', 'never asks'];
        yield 'what is expected' => [$step(['expects' => '"a" and']), 'asks.steps[0].expects', 'at sign 8'];
        yield 'our own headers' => [$step(['headers' => [['name' => 'Host', 'value' => 'x']]]), 'asks.steps[0].headers', 'cannot be called Host'];
        yield 'two lines in a header' => [$step(['headers' => [['name' => 'A', 'value' => "é"]]]), 'asks.steps[0].headers', 'plain signs'];
        yield 'something unknown' => [$step(['body' => '{token}']), 'asks.steps[0]', 'Nothing is known as token'];
        yield 'a host that is filled in' => [$step(['url' => 'http://{host}/']), 'asks.steps[0]', 'Nothing is known as host'];
        yield 'a value that is none' => [$step(['values' => [['metric' => 'Tide', 'where' => 'json /a']]]), 'asks.steps[0].values', 'tide_height_metres'];
        yield 'a value of ours' => [$step(['values' => [['metric' => 'check_runs', 'where' => 'json /a']]]), 'asks.steps[0].values', 'our own metrics'];
        yield 'a place in a document' => [$step(['values' => [['metric' => 'a', 'where' => 'xml //[']]]), 'asks.steps[0].values', 'cannot be read'];
        yield 'a place of no kind' => [$step(['takes' => [['name' => 'a', 'where' => 'css .a']]]), 'asks.steps[0].takes', 'is said as json'];
        $twice = ['url' => 'http://web-1/', 'name' => 'a'];
        yield 'two steps of one name' => [['steps' => [$twice, $twice]], 'asks.steps', 'same name'];
        yield 'no kind' => [['asks' => ['kind' => 'telepathy']], 'kind', 'one of http'];
    }

    /**
     * @param array<string, mixed> $with
     * @param non-empty-string     $field
     */
    #[DataProvider('faults')]
    public function testFaultsAreToldWithTheirFieldAndTheRemedy(array $with, string $field, string $words): void
    {
        [$status, $problem, $text] = $this->ines->send('POST', '/api/checks', $this->body($with));
        self::assertSame(422, $status, $text);
        self::assertStringStartsWith($field, $problem['field'] ?? '', $text);
        self::assertStringContainsString($words, $problem['title']);
    }

    /**
     * @param array<string, mixed> $with
     *
     * @return array<string, mixed>
     */
    private function body(array $with): array
    {
        $step = [
            'url' => "{$this->front}/gates/desk.xml",
            'expects' => 'xml /desk/@state = "open"',
            'values' => [['metric' => 'waiting_cars', 'where' => 'xml //gate/@waiting']],
        ];
        $asks = ['kind' => 'http', 'steps' => $with['steps'] ?? [$step]];
        unset($with['steps']);

        return $with + ['name' => 'check ' . bin2hex(random_bytes(3)), 'asks' => $asks, 'intervalSeconds' => 60];
    }

    /**
     * @param array<string, mixed> $body
     *
     * @return array<string, mixed>
     */
    private function add(array $body): array
    {
        [$status, $check, $text] = $this->ines->send('POST', '/api/checks', $body);
        self::assertSame(201, $status, $text);
        $this->made[] = $check['id'];

        return $check;
    }
}

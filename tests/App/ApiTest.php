<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** The API over real HTTP: who may do what, what hostile input meets, and that each change is written down. */
final class ApiTest extends TestCase
{
    private const RULE = ['name' => 'Test rule', 'enabled' => true];

    /** @return iterable<string, array{string, string, array<string, mixed>|null, array<string, int>}> what, and the status each role gets */
    public static function rights(): iterable
    {
        yield 'read Watch' => ['GET', '/api/watch', null, ['nobody' => 401, 'viewer' => 200, 'engineer' => 200, 'admin' => 200]];
        yield 'read a chart' => ['GET', '/api/chart?formula=messaging_queue_depth', null, ['nobody' => 401, 'viewer' => 200]];
        $replayed = array_diff_key(PlainRule::of(['hours' => 1] + self::RULE), ['enabled' => 0]);
        yield 'replay a rule' => ['POST', '/api/rules/replay', $replayed, ['nobody' => 401, 'viewer' => 200]];
        yield 'sweep a rule' => ['POST', '/api/rules/sweep', ['setting' => 'limit'] + $replayed, ['nobody' => 401, 'viewer' => 200]];
        yield 'switch many rules' => [
            'POST',
            '/api/rules/many',
            ['enabled' => true, 'ids' => [999_999_999]],
            ['nobody' => 401, 'viewer' => 403, 'engineer' => 200],
        ];
        yield 'replay as long as one likes' => [
            'POST',
            '/api/rules/replay/long',
            ['hours' => 400] + $replayed,
            ['nobody' => 401, 'viewer' => 200],
        ];
        yield 'preview a message' => [
            'POST',
            '/api/rules/message',
            ['definition' => PlainRule::of(['name' => 'Previewed'])['definition']],
            ['nobody' => 401, 'viewer' => 200],
        ];
        yield 'ask what is usual' => ['POST', '/api/rules/advice', ['formula' => 'mean(up, 5m)'], ['nobody' => 401, 'viewer' => 200]];
        yield 'write a rule' => ['POST', '/api/rules', PlainRule::of(['limit' => 'x'] + self::RULE), ['nobody' => 401, 'viewer' => 403, 'engineer' => 422]];
        yield 'acknowledge' => ['POST', '/api/incidents/999999/acknowledge', [], ['nobody' => 401, 'viewer' => 403, 'engineer' => 404]];
        yield 'add a target' => ['POST', '/api/targets', [], ['nobody' => 401, 'viewer' => 403, 'engineer' => 422]];
        yield 'test a target' => ['POST', '/api/targets/test', [], ['viewer' => 403, 'engineer' => 422]];
        yield 'change a target' => [
            'PUT',
            '/api/targets/999999',
            ['url' => 'http://127.0.0.1:9/metrics'],
            ['nobody' => 401, 'viewer' => 403, 'engineer' => 404],
        ];
        yield 'remove a target' => ['DELETE', '/api/targets/999999', [], ['viewer' => 403, 'engineer' => 404]];
        yield 'see the text of a target' => ['GET', '/api/targets/999999/raw', null, ['nobody' => 401, 'viewer' => 403, 'engineer' => 404]];
        yield 'change many targets' => [
            'POST',
            '/api/targets/many',
            ['action' => 'pause', 'ids' => [0]],
            ['nobody' => 401, 'viewer' => 403, 'engineer' => 422],
        ];
        yield 'add a group' => ['POST', '/api/groups', [], ['viewer' => 403, 'engineer' => 422]];
        yield 'read what it costs' => ['GET', '/api/cost', null, ['nobody' => 401, 'viewer' => 200]];
        yield 'take readings out' => ['GET', '/api/export?formula=messaging_queue_depth', null, ['nobody' => 401, 'viewer' => 200]];
        yield 'take readings in' => ['POST', '/api/import?as=csv&target=', [], ['viewer' => 403, 'engineer' => 422]];
        yield 'set what is kept' => ['PUT', '/api/retention', ['readings' => 0, 'was' => []], ['viewer' => 403, 'engineer' => 403, 'admin' => 422]];
        yield 'see what a target may bring' => ['GET', '/api/limits', null, ['nobody' => 401, 'viewer' => 200]];
        yield 'set what a target may bring' => [
            'PUT',
            '/api/limits',
            ['labels' => 0, 'was' => []],
            ['viewer' => 403, 'engineer' => 403, 'admin' => 422],
        ];
        yield 'read the settings' => ['GET', '/api/settings', null, ['nobody' => 401, 'viewer' => 200]];
        yield 'set the settings' => ['PUT', '/api/settings', ['version' => ''], ['viewer' => 403, 'engineer' => 403, 'admin' => 422]];
        yield 'send a test mail' => ['POST', '/api/settings/test-mail', [], ['nobody' => 401, 'viewer' => 403, 'engineer' => 403]];
        yield 'change the own password' => ['POST', '/api/session/password', [], ['nobody' => 401, 'viewer' => 422]];
        yield 'end sessions' => [
            'POST',
            '/api/people/999999/end-sessions',
            [],
            ['nobody' => 401, 'viewer' => 403, 'engineer' => 403, 'admin' => 404],
        ];
        yield 'remove a person' => ['DELETE', '/api/people/999999', [], ['viewer' => 403, 'engineer' => 403, 'admin' => 404]];
        yield 'add a person' => ['POST', '/api/people', [], ['viewer' => 403, 'engineer' => 403, 'admin' => 422]];
        yield 'read the changes' => ['GET', '/api/audit', null, ['viewer' => 403, 'engineer' => 403, 'admin' => 200]];
    }

    /** Line by line how far it is, at last the same as the short one says of the same span; or what is wrong, and where. */
    public function testALongReplayTellsHowFarItIsAndWhatItFound(): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $asked = array_diff_key(PlainRule::of(['hours' => 60, 'limit' => 120, 'clear' => 110] + self::RULE), ['enabled' => 0]);
        $lines = static fn(array $asked): array => array_map(
            static fn(string $line): array => (array) json_decode($line, true, 64, JSON_THROW_ON_ERROR),
            explode("\n", trim($client->send('POST', '/api/rules/replay/long', $asked)[2])),
        );
        $long = $lines($asked);
        $shares = array_column($long, 'share');
        self::assertGreaterThan(3, count($shares));
        self::assertSame($shares, array_values(array_unique($shares)));
        self::assertEqualsWithDelta(1.0, end($shares), 0.01);
        $short = $client->send('POST', '/api/rules/replay', $asked)[1];
        $plain = static fn(array $replay): array => array_map(
            static fn(array $spell): array => [$spell['labels'], $spell['raisedAt'], $spell['severity']],
            // What was raised in the last minutes may be there in one of them only.
            array_filter($replay['spells'], static fn(array $spell): bool => $spell['raisedAt'] < $replay['to'] - 300_000),
        );
        $replayed = end($long)['replay'] ?? self::fail();
        $known = static fn(array $spell): bool => $spell[1] > $replayed['from'] + 300_000;
        self::assertNotSame([], $plain($short));
        self::assertSame(array_values(array_filter($plain($short), $known)), array_values(array_filter($plain($replayed), $known)));
        // A year is asked for, and begins with what there is.
        $year = $lines(['hours' => 9_000] + $asked);
        $whole = end($year)['replay'] ?? self::fail();
        self::assertGreaterThan($whole['to'] - 10 * 86_400_000, $whole['from']);
        self::assertGreaterThanOrEqual(count($replayed['spells']), count($whole['spells']));
        [$status, $tooLong] = $client->send('POST', '/api/rules/replay', ['hours' => 9_000] + $asked);
        self::assertSame([422, 'hours'], [$status, $tooLong['field']]);
        $asked['definition']['formula'] = 'messaging_queue_depth - messaging_queue_depth on broker';
        $problem = $lines($asked)[0]['problem'] ?? self::fail();
        self::assertSame([422, 'formula'], [$problem['status'], $problem['field']]);
    }


    /**
     * @param array<string, mixed>|null $body
     * @param array<string, int>        $statuses
     */
    #[DataProvider('rights')]
    public function testRolesAreHeldAtTheApi(string $method, string $path, ?array $body, array $statuses): void
    {
        foreach ($statuses as $who => $status) {
            self::assertSame($status, $this->as($who)->send($method, $path, $body)[0], "{$who}: {$method} {$path}");
        }
    }

    /** Another tool asks with address and password in the request, for readings only, and leaves no session behind. */
    public function testOtherToolsTakeReadingsOutWithoutASession(): void
    {
        $ask = static fn(string $path, string $password, string $method = 'GET'): array => (new Client(null))->send(
            $method,
            $path,
            $method === 'GET' ? null : [],
            ['Authorization' => 'Basic ' . base64_encode("viewer@saltmarsh.example:{$password}")],
        );
        $tool = new Client(null);
        [$status, , $text] = $tool->send('GET', '/api/newest', null, [
            'Authorization' => 'Basic ' . base64_encode('viewer@saltmarsh.example:salt-and-marsh'),
        ]);
        self::assertSame(200, $status);
        self::assertStringContainsString('messaging_queue_depth{', $text);
        self::assertStringEndsWith("# EOF\n", $text);
        self::assertSame('', $tool->cookie());
        self::assertSame(200, $ask('/api/export?formula=messaging_queue_depth', 'salt-and-marsh')[0]);
        self::assertSame(401, $ask('/api/newest', 'wrong')[0]);
        self::assertSame(401, $ask('/api/watch', 'salt-and-marsh')[0], 'nothing else is open to this');
        self::assertSame(401, $ask('/api/rules', 'salt-and-marsh', 'POST')[0]);
    }

    /** Whoever tries passwords at the tools' door has to wait too, and nobody else waits with them. */
    public function testAToolThatTriesPasswordsHasToWait(): void
    {
        $ask = static fn(string $who, string $password): int => (new Client(null))->send('GET', '/api/newest', null, [
            'Authorization' => 'Basic ' . base64_encode("{$who}@saltmarsh.example:{$password}"),
        ])[0];
        $added = (new Client('admin@saltmarsh.example'))->send('POST', '/api/people', [
            'name' => 'A tool',
            'email' => 'tool@saltmarsh.example',
            'role' => 'viewer',
            'password' => 'a long enough password',
        ])[1];
        try {
            self::assertSame(200, $ask('tool', 'a long enough password'));
            self::assertSame([401, 401, 401, 401, 401], array_map(static fn(int $i): int => $ask('tool', "wrong {$i}"), range(1, 5)));
            self::assertContains($ask('tool', 'wrong again'), [401, 429]);
            self::assertNotSame(200, $ask('tool', 'a long enough password'), 'not even with the right one, for a minute');
            self::assertSame(200, $ask('ines', 'salt-and-marsh'));
        } finally {
            (new Client('admin@saltmarsh.example'))->send('DELETE', "/api/people/{$added['id']}", []);
        }
    }

    public function testAForeignPageCannotActThroughASignedInBrowser(): void
    {
        $client = $this->as('engineer');
        self::assertSame(403, $client->send('POST', '/api/incidents/1/acknowledge', [], ['Origin' => 'https://evil.example'])[0]);
        self::assertSame(403, $client->send('POST', '/api/incidents/1/acknowledge', [], ['Sec-Fetch-Site' => 'cross-site'])[0]);
        self::assertSame(
            403,
            $client->send('POST', '/api/incidents/1/acknowledge', null, ['Content-Type' => 'application/x-www-form-urlencoded'])[0],
        );
    }

    public function testSigningInChangesTheSessionAndIsThrottled(): void
    {
        $guest = new Client(null);
        $guest->send('GET', '/api/session');
        $first = $guest->cookie();
        $guest->send('POST', '/api/session', ['email' => 'viewer@saltmarsh.example', 'password' => 'salt-and-marsh']);
        self::assertNotSame('', $guest->cookie());
        self::assertNotSame($first, $guest->cookie(), 'a session from before does not become the signed-in one');
        $statuses = [];
        for ($i = 0; $i < 7; ++$i) {
            $statuses[] = (new Client(null))->send('POST', '/api/session', [
                'email' => 'nobody-' . getmypid() . '@saltmarsh.example',
                'password' => "wrong {$i}",
            ])[0];
        }
        self::assertSame([401, 429], [$statuses[0], $statuses[6]]);
    }

    /** @return iterable<string, array{array<string, mixed>, string}> a change to a good rule, and the field that must be named */
    public static function badRules(): iterable
    {
        yield 'a misspelt metric' => [['formula' => 'messaging_queue_dept'], 'formula'];
        yield 'a formula that is a list' => [['formula' => ['x']], 'formula'];
        yield 'a huge formula' => [['formula' => str_repeat('a', 100_000)], 'formula'];
        yield 'an empty name' => [['name' => '  '], 'name'];
        yield 'a name with a null byte' => [['name' => "a\0b"], 'name'];
        yield 'a severity of our own making' => [['severity' => 'awful'], 'severity'];
        yield 'a limit that is a text' => [['limit' => '400'], 'limit'];
        yield 'a negative hold' => [['holdSeconds' => -1], 'holdSeconds'];
        yield 'clearing past the limit' => [['limit' => 10, 'clear' => 20], 'clear'];
        yield 'a condition that is a text' => [['condition' => 'above 400'], 'condition'];
        yield 'a condition of no kind' => [['condition' => ['side' => 'above']], 'kind'];
        yield 'a condition of a kind of our own making' => [['condition' => ['kind' => 'awful']], 'kind'];
        yield 'no limit at all' => [['condition' => ['kind' => 'threshold', 'side' => 'above', 'limits' => [], 'clear' => 1]], 'limits'];
        yield 'a limit of no severity' => [
            ['condition' => ['kind' => 'threshold', 'side' => 'above', 'limits' => [['limit' => 1]], 'clear' => 1]],
            'severity',
        ];
        yield 'a range with one end' => [
            ['condition' => ['kind' => 'threshold', 'side' => 'outside', 'limits' => [['severity' => 'major', 'limit' => 1]], 'clear' => 1]],
            'limits',
        ];
        yield 'a field of another kind' => [
            ['condition' => ['kind' => 'threshold', 'side' => 'above', 'limits' => [['severity' => 'major', 'limit' => 1]], 'clear' => 1, 'ago' => 60]],
            'ago',
        ];
        yield 'a runbook that runs' => [['runbook' => 'javascript:alert(1)'], 'runbook'];
    }

    /** @param array<string, mixed> $change */
    #[DataProvider('badRules')]
    public function testABadRuleIsRefusedAndItsFieldNamed(array $change, string $field): void
    {
        [$status, $problem] = $this->as('engineer')->send('POST', '/api/rules', PlainRule::of($change + self::RULE));
        self::assertSame([422, $field], [$status, $problem['field'] ?? null], json_encode($problem, JSON_THROW_ON_ERROR));
        self::assertStringNotContainsString('Exception', (string) $problem['title']);
    }

    public function testARuleIsAddedChangedOnceAndRemovedAndAllOfItIsWrittenDown(): void
    {
        $client = $this->as('engineer');
        $name = 'Audited ' . bin2hex(random_bytes(4));
        [$status, $rule] = $client->send('POST', '/api/rules', PlainRule::of(['name' => $name] + self::RULE));
        self::assertSame(201, $status);
        self::assertSame(422, $client->send('POST', '/api/rules', PlainRule::of(['name' => $name] + self::RULE))[0], 'a name is given once');
        [$status, $changed] = $client->send('PUT', "/api/rules/{$rule['id']}", PlainRule::changed($rule, ['limit' => 100_000]));
        self::assertSame([200, $rule['version'] + 1], [$status, $changed['version']]);
        self::assertSame(409, $client->send('PUT', "/api/rules/{$rule['id']}", PlainRule::changed($rule, ['limit' => 5]))[0], 'from an old reading of it');
        self::assertSame(204, $client->send('DELETE', "/api/rules/{$rule['id']}", [])[0]);
        $entries = array_values(
            array_filter($this->as('admin')->send('GET', '/api/audit')[1], static fn(array $entry): bool => $entry['subject'] === "rule {$name}"),
        );
        self::assertSame(['removed', 'changed', 'added'], array_column($entries, 'action'));
        self::assertSame([99_999, 100_000], array_map(PlainRule::limitOf(...), [$entries[1]['before'], $entries[1]['after']]));
        self::assertSame('Ines Duarte', $entries[1]['person']);
    }

    public function testARuleThatOthersLookAtKeepsItsNameAndStays(): void
    {
        $client = $this->as('engineer');
        $mark = bin2hex(random_bytes(3));
        $add = static fn(array $what): array => $client->send('POST', '/api/rules', PlainRule::of($what + ['enabled' => false]));
        $first = $add(['name' => "First {$mark}"])[1];
        [$status, $problem] = $add(['name' => "Second {$mark}", 'dependsOn' => ["Fist {$mark}"]]);
        self::assertSame([422, 'dependsOn'], [$status, $problem['field']]);
        self::assertStringContainsString("did you mean First {$mark}?", (string) $problem['title']);
        $second = $add(['name' => "Second {$mark}", 'dependsOn' => ["First {$mark}"]])[1];
        $third = $add(['name' => "Third {$mark}", 'formula' => "raised(\"Second {$mark}\")"])[1];
        try {
            $refused = [
                'its name' => [['name' => "Other {$mark}"], 'name'],
                'itself' => [['dependsOn' => ["First {$mark}"]], 'dependsOn'],
                'a round' => [['formula' => "raised(\"Third {$mark}\")"], 'formula'],
            ];
            foreach ($refused as $what => [$change, $field]) {
                [$status, $problem] = $client->send('PUT', "/api/rules/{$first['id']}", PlainRule::changed($first, $change));
                self::assertSame([422, $field], [$status, $problem['field'] ?? null], $what);
            }
            self::assertSame(409, $client->send('DELETE', "/api/rules/{$first['id']}", [])[0], 'another one looks at it');
            self::assertSame(409, $client->send('DELETE', "/api/rules/{$second['id']}", [])[0]);
            $client->send('PUT', "/api/rules/{$second['id']}", PlainRule::changed($second, ['dependsOn' => []]));
            $first = $client->send('PUT', "/api/rules/{$first['id']}", PlainRule::changed($first, ['name' => "Other {$mark}"]))[1];
            self::assertSame("Other {$mark}", $first['definition']['name'] ?? null, 'nobody looks at it any more');
            $revisions = $client->send('GET', "/api/rules/{$second['id']}/revisions")[1];
            self::assertSame([2, 1], array_column($revisions, 'number'));
            self::assertSame([[], ["First {$mark}"]], array_column(array_column($revisions, 'definition'), 'dependsOn'));
            self::assertSame('Ines Duarte', $revisions[0]['author']);
        } finally {
            foreach ([$third, $second, $first] as $rule) {
                self::assertSame(204, $client->send('DELETE', "/api/rules/{$rule['id']}", [])[0]);
            }
        }
    }

    public function testPeopleAreAddedAndKeepTheirAdministrator(): void
    {
        $admin = $this->as('admin');
        $email = 'new-' . bin2hex(random_bytes(4)) . '@saltmarsh.example';
        $person = ['name' => 'Noor Halvorsen', 'email' => $email, 'role' => 'viewer', 'password' => 'quite a long one'];
        self::assertSame('password', $admin->send('POST', '/api/people', ['password' => 'short'] + $person)[1]['field']);
        self::assertSame('email', $admin->send('POST', '/api/people', ['email' => 'nowhere'] + $person)[1]['field']);
        [$status, $added] = $admin->send('POST', '/api/people', $person);
        self::assertSame(201, $status);
        self::assertSame('email', $admin->send('POST', '/api/people', $person)[1]['field'], 'an address is given once');
        self::assertSame(200, (new Client($email, 'quite a long one'))->send('GET', '/api/watch')[0]);
        self::assertSame('role', $admin->change("/api/people/{$added['id']}", ['role' => 'captain'])[1]['field']);
        $self = $admin->send('GET', '/api/session')[1]['person']['id'];
        self::assertSame('role', $admin->change("/api/people/{$self}", ['role' => 'viewer'])[1]['field']);
        self::assertSame(403, $this->as('engineer')->send('PUT', "/api/people/{$added['id']}", ['role' => 'administrator'])[0]);
        $stored = Instance::connect()->fetchOne('SELECT password_hash FROM person WHERE email = ?', [$email]);
        self::assertStringStartsWith('$argon2id$', (string) $stored);
    }

    /** In force at once; from an old reading refused, with what is there now; and a test mail tells what the server said. */
    public function testSettingsAreInForceWithoutARestart(): void
    {
        $admin = $this->as('admin');
        $before = $admin->send('GET', '/api/settings')[1];
        self::assertArrayNotHasKey('password', (array) $before['mailServer']);
        try {
            [$status, $after] = $admin->change('/api/settings', [
                'zone' => 'Atlantic/Azores',
                'publicUrl' => 'https://olivine.saltmarsh.example/',
                'idleHours' => 8,
            ]);
            self::assertSame([200, 'https://olivine.saltmarsh.example'], [$status, $after['publicUrl']]);
            self::assertSame('Atlantic/Azores', $admin->send('GET', '/api/session')[1]['zone']);
            [$status, $problem] = $admin->send('PUT', '/api/settings', ['zone' => 'UTC'] + array_diff_key($before, ['mailServer' => 1]));
            self::assertSame([409, 'Atlantic/Azores'], [$status, $problem['now']['zone'] ?? null]);
            foreach (
                [
                    'zone' => 'Mars/Olympus',
                    'mailFrom' => 'nobody',
                    'publicUrl' => 'ftp://x',
                    'idleHours' => 0,
                    'sessionDays' => 1_000,
                    'mailServer' => ['host' => 'a b'],
                ] as $field => $value
            ) {
                self::assertSame([422, $field], [($refused = $admin->change('/api/settings', [$field => $value]))[0], $refused[1]['field'] ?? null]);
            }
            $subjects = static fn(): array => array_column(Instance::letters(), 'subject');
            self::assertNotContains('A test from Olivine', $subjects());
            $sent = $admin->send('POST', '/api/settings/test-mail', [])[1];
            self::assertSame([true, 'admin@saltmarsh.example'], [$sent['ok'], $sent['to']], $sent['message']);
            Instance::eventually(static fn(): bool => in_array('A test from Olivine', $subjects(), true), 10, 'it arrives');
            self::assertSame(200, $admin->change('/api/settings', ['mailServer' => ['host' => '127.0.0.1', 'port' => 9, 'tls' => 'never']])[0]);
            self::assertFalse($admin->send('POST', '/api/settings/test-mail', [])[1]['ok'], 'nobody listens there');
        } finally {
            $back = $admin->change('/api/settings', $before === [] ? [] : array_diff_key($before, ['version' => 1]));
            self::assertSame(200, $back[0], $back[2]);
        }
        self::assertSame(array_diff_key($before, ['version' => 1]), array_diff_key($admin->send('GET', '/api/settings')[1], ['version' => 1]));
    }

    /** What breaks lines could forge them in text mails and logs: no name holds it. */
    public function testNoNameBreaksALine(): void
    {
        $admin = $this->as('admin');
        foreach (["a\nBcc: b", "a\rb", "a\u{2028}b", "a\u{2029}b", "a\u{0085}b", "a\u{001B}[2Jb", "a\u{202E}b"] as $name) {
            $bodies = [
                '/api/rules' => PlainRule::of(['name' => $name] + self::RULE),
                '/api/groups' => ['name' => $name],
                '/api/targets' => ['name' => $name, 'url' => 'http://127.0.0.1:9/metrics'],
                '/api/people' => ['name' => $name, 'email' => 'line@saltmarsh.example', 'role' => 'viewer', 'password' => 'quite a long one'],
            ];
            foreach ($bodies as $path => $body) {
                [$status, $problem] = $admin->send('POST', $path, $body);
                self::assertSame([422, 'name'], [$status, $problem['field'] ?? null], $path . ' ' . json_encode($name));
            }
        }
    }

    /** What two people change from the same reading: the second is told what is there now, for everything that people edit. */
    public function testWhoeverSavesLaterIsToldWhatIsThereNow(): void
    {
        $admin = $this->as('admin');
        $mark = bin2hex(random_bytes(3));
        $things = [
            '/api/rules' => [PlainRule::of(['name' => "twice {$mark}"] + self::RULE), ['enabled' => false], 'enabled'],
            '/api/groups' => [['name' => "twice {$mark}", 'intervalSeconds' => 60], ['intervalSeconds' => 30], 'intervalSeconds'],
            '/api/targets' => [
                ['name' => "twice {$mark}", 'url' => 'http://127.0.0.1:9/metrics', 'intervalSeconds' => 3_600],
                ['intervalSeconds' => 1_800],
                'intervalSeconds',
            ],
        ];
        foreach ($things as $path => [$body, $change, $field]) {
            $made = $admin->send('POST', $path, $body)[1];
            $version = ['version' => $made['version']];
            self::assertSame(200, $admin->send('PUT', "{$path}/{$made['id']}", $change + $body + $version)[0], $path);
            [$status, $problem] = $admin->send('PUT', "{$path}/{$made['id']}", $body + $version);
            self::assertSame([409, $change[$field] ?? null], [$status, $problem['now'][$field] ?? null], $path);
            self::assertSame(422, $admin->send('PUT', "{$path}/{$made['id']}", $body)[0], "{$path}: without a version nobody knows what was read");
            [$status, $problem] = $admin->send(
                'PUT',
                "{$path}/{$made['id']}",
                ['intervallSeconds' => 5, 'limmit' => 3] + $body + ['version' => $made['version'] + 1],
            );
            self::assertSame(422, $status, 'a misspelt field is not passed over');
            self::assertStringContainsString('There is no field', $problem['title']);
            $admin->send('DELETE', "{$path}/{$made['id']}", []);
        }
        $limits = array_column($admin->send('GET', '/api/limits')[1], 'value', 'name');
        [$status, $problem] = $admin->send('PUT', '/api/limits', [
            'labels' => $limits['labels'],
            'was' => ['labels' => $limits['labels'] + 1] + $limits,
        ]);
        self::assertSame([409, $limits['labels']], [$status, $problem['now']['labels'] ?? null]);
    }

    public function testAFormulasFaultPointsAtItsPlace(): void
    {
        [$status, $problem] = $this->as('viewer')->send('GET', '/api/chart?formula=' . rawurlencode('sum(messaging_queue_dept)'));
        self::assertSame(
            [422, 'formula', 4, 20, 'messaging_queue_depth'],
            [$status, $problem['field'], $problem['offset'], $problem['length'], $problem['suggestion']],
        );
    }

    public function testATargetIsTestedBeforeItIsSavedAndTheReasonIsPlain(): void
    {
        $client = $this->as('engineer');
        $test = static fn(string $url): array => $client->send('POST', '/api/targets/test', ['name' => 'probe', 'url' => $url])[1];
        $good = $test('http://127.0.0.1:' . Instance::port(5) . '/metrics');
        self::assertTrue($good['ok'], json_encode($good, JSON_THROW_ON_ERROR));
        self::assertGreaterThan(40, $good['series'], 'this machine tells of itself');
        $found = array_column($good['found'], null, 'name');
        self::assertSame(
            ['gauge', 'seconds'],
            [$found['system_uptime_seconds']['type'] ?? null, $found['system_uptime_seconds']['unit'] ?? null],
            'its families are shown',
        );
        self::assertNotSame([], $found['system_cpu_time_seconds']['readings'] ?? [], 'with a few of their readings');
        self::assertStringContainsString('connection refused', $test('http://127.0.0.1:9/metrics')['message']);
        self::assertStringContainsString('status 404', $test('http://127.0.0.1:' . Instance::port(5) . '/nothing')['message']);
        self::assertStringContainsString('Line 1', $test('http://127.0.0.1:' . Instance::port(2) . '/')['message']);
        self::assertStringContainsString('a part of Olivine itself', $test(Instance::web() . '/')['title']);
        self::assertSame('url', $client->send('POST', '/api/targets/test', ['name' => 'probe', 'url' => 'file:///etc/passwd'])[1]['field']);
    }

    private function as(string $who): Client
    {
        static $clients = [];

        return $clients[$who] ??= new Client(
            ['nobody' => null, 'viewer' => 'viewer@saltmarsh.example', 'engineer' => 'ines@saltmarsh.example', 'admin' => 'admin@saltmarsh.example'][
                $who
            ],
        );
    }
}

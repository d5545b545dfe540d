<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Yaml\Yaml;

/** Recipes on the real things: what they say they bring comes, what is missing is said, and what is adopted is watched. */
final class RecipesTest extends TestCase
{
    use RealServers;

    private const PASSWORD = 'tide-and-time';
    /** @var array<string, int> */
    private static array $ports = [];
    private Client $ines;

    public static function setUpBeforeClass(): void
    {
        self::ownFolder('recipes');
        foreach (['mariadb', 'postgresql', 'cache', 'web', 'agent'] as $name) {
            self::$ports[$name] = self::freePort();
        }
        $way = self::mariaDb(self::$ports['mariadb']);
        $connection = self::patiently(static fn(): \PDO => new \PDO($way, 'root', ''));
        $connection->exec("CREATE USER watcher@'127.0.0.1' IDENTIFIED BY '" . self::PASSWORD . "'");
        $way = self::postgreSql(self::$ports['postgresql'], self::PASSWORD);
        $connection = self::patiently(static fn(): \PDO => new \PDO($way, 'root', self::PASSWORD));
        $connection->exec("CREATE ROLE watcher LOGIN PASSWORD '" . self::PASSWORD . "'");
        $connection->exec('GRANT pg_monitor TO watcher');
        $port = (string) self::$ports['cache'];
        self::begun(['redis-server', '--port', $port, '--bind', '127.0.0.1', '--save', '', '--dir', self::$folder, '--daemonize', 'no']);
        self::webServer(self::$ports['web']);
        $agent = dirname(__DIR__, 2) . '/agent/agent.php';
        self::begun([PHP_BINARY, $agent, '--port=' . self::$ports['agent'], '--processes=redis-server,nobody']);
        array_map(self::listens(...), array_values(self::$ports));
    }

    protected function setUp(): void
    {
        $this->ines = new Client('ines@saltmarsh.example');
    }

    /** @return list<array{string, array<string, string>}> recipe and what it is told */
    private static function things(): array
    {
        $web = 'http://127.0.0.1:' . self::$ports['web'];

        return [
            ['mariadb', ['host' => '127.0.0.1', 'port' => (string) self::$ports['mariadb'], 'password' => self::PASSWORD]],
            ['postgresql', ['host' => '127.0.0.1', 'port' => (string) self::$ports['postgresql'], 'password' => self::PASSWORD]],
            ['cache-server', ['host' => '127.0.0.1', 'port' => (string) self::$ports['cache']]],
            ['web-server-status', ['url' => "{$web}/status"]],
            ['php-fpm', ['url' => "{$web}/fpm-status?json"]],
            ['http-service', ['url' => "{$web}/", 'expects' => '"ahoy"']],
        ];
    }

    public function testTheSchemaFitsOurs(): void
    {
        $root = dirname(__DIR__, 2);
        $schema = json_decode((string) file_get_contents("{$root}/docs/formats/recipes.schema.json"), false, 32, JSON_THROW_ON_ERROR);
        preg_match('~```yaml\n(.*?)```~s', (string) file_get_contents("{$root}/docs/formats/recipes.md"), $example);
        $texts = array_map(static fn(string $file): string => (string) file_get_contents($file), glob("{$root}/recipes/*.yaml") ?: []);
        foreach ([$example[1] ?? '', ...$texts] as $text) {
            $error = (new Validator())->validate(Yaml::parse($text, Yaml::PARSE_OBJECT_FOR_MAP), $schema)->error();
            self::assertNull($error, $error === null ? '' : json_encode((new ErrorFormatter())->format($error), JSON_THROW_ON_ERROR));
        }
    }

    public function testAllThatARecipeNamesComes(): void
    {
        [$status, $shelf] = $this->ines->send('GET', '/api/recipes');
        self::assertSame([200, []], [$status, $shelf['unread']], 'each recipe of ours is read');
        self::assertGreaterThanOrEqual(16, count($shelf['recipes']));
        foreach (self::things() as [$recipe, $inputs]) {
            [$status, $trial] = $this->ines->send('POST', "/api/recipes/{$recipe}/try", ['inputs' => $inputs]);
            self::assertSame(200, $status, $recipe . json_encode($trial));
            self::assertSame(['runs', ''], [$trial['check']['verdict'], $trial['check']['words']], $recipe);
            self::assertSame([], $trial['missing'], $recipe);
            self::assertGreaterThan(0, $trial['check']['readingsADay'], $recipe);
            self::assertStringNotContainsString(self::PASSWORD, json_encode($trial, JSON_THROW_ON_ERROR));
            self::assertStringEndsWith('at 127.0.0.1', $trial['proposed']);
        }
        $agent = ['inputs' => ['host' => '127.0.0.1', 'port' => (string) self::$ports['agent']]];
        foreach (['linux-host' => [], 'services-of-a-host' => ['unit_runs', 'unit_restarts_total']] as $recipe => $missing) {
            $tried = fn(): array => $this->ines->send('POST', "/api/recipes/{$recipe}/try", $agent)[1];
            Instance::eventually(static fn(): bool => ($tried()['missing'] ?? null) === $missing, 20, 'the agent has looked for a second');
            self::assertSame(gethostname(), $tried()['proposed'], 'as it calls itself');
        }
    }

    public function testWhatIsAdoptedIsWatchedAndItsRulesFollow(): void
    {
        $made = [];
        try {
            foreach (self::things() as [$recipe, $inputs]) {
                $wanted = ['name' => "quay {$recipe}", 'inputs' => $inputs, 'labels' => ['service' => 'quay']];
                [$status, $adopted] = $this->ines->send('POST', "/api/recipes/{$recipe}/adopt", $wanted);
                self::assertSame(201, $status, json_encode($adopted, JSON_THROW_ON_ERROR));
                $made[] = $adopted['id'];
                self::assertSame(422, $this->ines->send('POST', "/api/recipes/{$recipe}/adopt", $wanted)[0], 'a name is taken once');
                [, $shown] = $this->ines->send('GET', "/api/recipes/{$recipe}");
                self::assertContains($adopted, $shown['used']);
            }
            $rules = function () use ($made): array {
                return array_column($this->ines->send('GET', "/api/recipes/mariadb/rules/{$made[0]}")[1] ?? [], null, 'reason');
            };
            Instance::eventually(static fn(): bool => count($rules()) === 3, 60, 'its rules are offered once its readings are here');
            $restarted = $rules()['Nobody starts a database by accident; what was cached is gone.'];
            self::assertSame([600, 'the same everywhere'], [(int) $restarted['definition']['condition']['limits'][0]['limit'], $restarted['because']]);
            [$status, $rule] = $this->ines->send('POST', '/api/rules', ['definition' => $restarted['definition'], 'enabled' => false]);
            self::assertSame(201, $status, json_encode($rule, JSON_THROW_ON_ERROR));
            self::assertTrue($rules()[$restarted['reason']]['isThere'], 'it is not offered as new any more');
            $this->ines->send('DELETE', "/api/rules/{$rule['id']}", []);
            foreach ($this->ines->send('GET', '/api/checks')[1]['checks'] as $check) {
                if (in_array($check['id'], $made, true)) {
                    self::assertNotContains('down', array_column($check['states'], 'verdict'), $check['name']);
                }
            }
        } finally {
            array_map(fn(int $id) => $this->ines->send('DELETE', "/api/targets/{$id}", []), $made);
        }
    }

    public function testWhatIsNotSoYetIsSaid(): void
    {
        $mariaDb = self::things()[0][1];
        [, $trial] = $this->ines->send('POST', '/api/recipes/mariadb/try', ['inputs' => ['password' => 'another'] + $mariaDb]);
        self::assertSame('down', $trial['check']['verdict']);
        self::assertStringContainsString('denied', $trial['check']['words']);
        self::assertCount(12, $trial['missing']);
        foreach (
            [
                ['mariadb/try', ['inputs' => []], 422, 'inputs.host'],
                ['mariadb/try', ['inputs' => ['hosts' => 'db-1']], 422, 'inputs.hosts'],
                ['mariadb/try', ['inputs' => ['host' => 'db-1; x', 'port' => '3306']], 422, 'inputs.host'],
                ['mariadb/try', ['inputs' => ['host' => 'db-1', 'port' => 'many']], 422, 'inputs.port'],
                ['mariadb/try', ['inputs' => ['Host' => 'db-1']], 422, 'inputs'],
                ['mariadb/try', ['inputs' => 'db-1'], 422, 'inputs'],
                ['mariadb/try', ['inputs' => ['host' => '{password}', 'password' => 'x']], 422, 'inputs.host'],
                ['mariadb/adopt', ['inputs' => $mariaDb], 422, 'name'],
                ['http-service/try', ['inputs' => ['url' => 'http://169.254.169.254/latest']], 422, 'inputs.url'],
                ['every-target/adopt', ['name' => 'all'], 409, null],
                ['nothing/try', ['inputs' => []], 404, null],
            ] as [$path, $body, $status, $field]
        ) {
            [$got, $problem] = $this->ines->send('POST', "/api/recipes/{$path}", $body);
            self::assertSame([$status, $field], [$got, $problem['field'] ?? null], $path . json_encode([$body, $problem]));
        }
        $viewer = new Client('mei-lin@saltmarsh.example');
        self::assertSame(200, $viewer->send('GET', '/api/recipes/mariadb')[0]);
    }

    /** A recipe of one's own; one that cannot be read is told with its place, and takes none of the others away. */
    public function testRecipesOfOnesOwn(): void
    {
        $folder = "{$_SERVER['OLIVINE_STATE_DIR']}/recipes";
        is_dir($folder) || mkdir($folder, 0o755);
        $file = "{$folder}/quay.yaml";
        try {
            file_put_contents($file, implode("\n", [
                'olivine: 1', 'recipes:',
                '  quay-light:', '    name: Quay light', '    thing: light', '    about: Whether it burns.',
                '    inputs: { host: { label: Host } }', '    check: { kind: tcp, host: "{host}", port: 8080 }',
                '  broken:', '    name: Broken', '    thing: light', '    about: No', '    check: { kind: tcp, host: "{hots}" }', '    rulez: {}',
                '  sealed:', '    name: Sealed', '    thing: light', '    about: No', '    inputs: { word: { label: Word, secret: true } }',
                '    target: { url: "http://x/?{word}" }',
                '    rules: { a: { name: A, watch: "mean(", raise: { minor: above 1 }, because: so } }',
                '  moved:', '    name: Moved', '    thing: light', '    about: No',
                '    rules: { a: { name: A, watch: x, raise: { minor: above 0 }, because: so, history: { times: 2 } } }',
                '    findings:',
                '      a: { name: A, grade: loud, watch: x, when: above 1, remedy: none }',
                '      b: { name: B, grade: look, watch: x, when: outside 1 to 2, remedy: none }', '',
            ]));
            chmod($file, 0o644);
            file_put_contents("{$folder}/sealed-off.yaml", 'olivine: 1');
            chmod("{$folder}/sealed-off.yaml", 0o000);
            $shelf = $this->ines->send('GET', '/api/recipes')[1];
            $names = array_column($shelf['recipes'], 'name');
            self::assertContains('Quay light', $names);
            self::assertContains('MariaDB', $names);
            self::assertNotContains('Broken', $names);
            self::assertNotContains('Sealed', $names);
            $said = implode("\n", $shelf['unread']);
            self::assertMatchesRegularExpression('~quay\.yaml:14:\d+: there is no key rulez here; did you mean rules\?~', $said);
            self::assertStringContainsString('{hots} is filled in and not asked for', $said);
            self::assertStringContainsString('the secret word is never filled in', $said);
            self::assertStringContainsString('recipes/sealed-off.yaml:1:1: the file cannot be read', $said, 'and what is not for us takes nothing away');
            self::assertMatchesRegularExpression('~quay\.yaml:21:\d+:~', $said);
            self::assertStringContainsString('the rule needs one that is not 0', $said);
            self::assertStringContainsString('grade must be mend, look, know', $said);
            self::assertStringContainsString('when is above or below a limit', $said);
            $trial = $this->ines->send('POST', '/api/recipes/quay-light/try', ['inputs' => ['host' => '127.0.0.1']]);
            self::assertSame(200, $trial[0], $trial[2]);
        } finally {
            unlink("{$folder}/sealed-off.yaml");
            unlink($file);
        }
    }

    /** Found where it is so, since then, once; left aside with a reason and taken up again; gone where it is not so any more. */
    public function testKnownFaultsAreFoundAndLeftAside(): void
    {
        $folder = "{$_SERVER['OLIVINE_STATE_DIR']}/recipes";
        is_dir($folder) || mkdir($folder, 0o755);
        $write = static function (string $when) use ($folder): void {
            file_put_contents("{$folder}/found.yaml", implode("\n", [
                'olivine: 1', 'recipes:', '  quay:', '    name: Quay', '    thing: quay', '    about: A test', '    findings:',
                '      read:', '        name: Brokers are read', '        grade: look',
                '        watch: max(olivine_scrape_success where target in ("broker-north", "broker-south"), 10m)',
                "        when: {$when}", '        remedy: Nothing is to be done.',
                '      none:', '        name: Nobody brings it', '        grade: know', '        watch: nobody_brings_this', '        when: above 0',
                '        remedy: Nothing.',
                '      unpaired:', '        name: Cannot be paired', '        grade: know',
                '        watch: olivine_scrape_success / (sum(system_cpu_logical_count) per target, host_name)', '        when: above 5',
                '        remedy: Nothing.', '',
            ]));
            chmod("{$folder}/found.yaml", 0o644);
            touch("{$folder}/found.yaml", time() - random_int(1, 100_000));
        };
        $ours = fn(array $answer): array => array_column(
            array_filter($answer['findings'], static fn(array $one): bool => $one['recipe'] === 'quay'),
            null,
            'id',
        );
        try {
            $write('above 0');
            $found = [];
            Instance::eventually(function () use (&$found, $ours): bool {
                [$status, $answer, $text] = $this->ines->send('POST', '/api/findings/look', []);
                self::assertSame(200, $status, $text);
                $found = $ours($answer);

                return count($found) === 2;
            }, 60, 'one for each of them, once both were read');
            self::assertEqualsCanonicalizing(['broker-north', 'broker-south'], array_column(array_column($found, 'labels'), 'target'));
            $id = array_key_first($found);
            $again = $ours($this->ines->send('POST', '/api/findings/look', [])[1]);
            self::assertSame($found[$id]['firstAt'], $again[$id]['firstAt'], 'since it was found first');
            self::assertGreaterThanOrEqual($found[$id]['lastAt'], $again[$id]['lastAt']);

            $viewer = new Client('viewer@saltmarsh.example');
            self::assertSame(403, $viewer->send('POST', "/api/findings/{$id}/aside", ['reason' => 'x'])[0]);
            self::assertSame([422, 'reason'], [
                $this->ines->send('POST', "/api/findings/{$id}/aside", ['reason' => ''])[0],
                $this->ines->send('POST', "/api/findings/{$id}/aside", ['reason' => ''])[1]['field'] ?? null,
            ]);
            self::assertSame(204, $this->ines->send('POST', "/api/findings/{$id}/aside", ['reason' => 'it is meant'])[0]);
            $aside = $ours($this->ines->send('POST', '/api/findings/look', [])[1])[$id];
            self::assertSame(['Ines Duarte', 'it is meant'], [$aside['asideBy'], $aside['reason']], 'looking anew leaves it aside');
            self::assertSame(204, $this->ines->send('POST', "/api/findings/{$id}/back", [])[0]);
            self::assertNull($ours($viewer->send('GET', '/api/findings')[1])[$id]['asideAt']);

            $this->ines->send('POST', "/api/findings/{$id}/aside", ['reason' => 'for now']);
            $write('above 1');
            self::assertSame([], $ours($this->ines->send('POST', '/api/findings/look', [])[1]), 'it is not so any more');
            self::assertSame(404, $this->ines->send('POST', "/api/findings/{$id}/back", [])[0]);
            $write('above 0');
            $anew = $ours($this->ines->send('POST', '/api/findings/look', [])[1])[$id];
            self::assertGreaterThan($found[$id]['firstAt'], $anew['firstAt'], 'what comes back begins anew');
            self::assertNull($anew['asideAt'], 'and is aside no more');
        } finally {
            unlink("{$folder}/found.yaml");
            $this->ines->send('POST', '/api/findings/look', []);
        }
        self::assertSame([], $ours($this->ines->send('GET', '/api/findings')[1]), 'with its recipe it is gone');
    }

    /** What was left aside stays so where its target is called otherwise, to a name and back. */
    public function testAFindingFollowsItsTarget(): void
    {
        $folder = "{$_SERVER['OLIVINE_STATE_DIR']}/recipes";
        is_dir($folder) || mkdir($folder, 0o755);
        file_put_contents("{$folder}/follows.yaml", implode("\n", [
            'olivine: 1', 'recipes:', '  follows:', '    name: Quay', '    thing: quay', '    about: A test', '    findings:', '      read:',
            '        name: It is read', '        grade: know', '        when: above 0', '        remedy: Nothing.',
            '        watch: max(olivine_scrape_success where target in ("quay one", "quay two"), 10m)', '',
        ]));
        chmod("{$folder}/follows.yaml", 0o644);
        $url = 'http://127.0.0.1:' . self::$ports['agent'] . '/metrics';
        $target = $this->ines->send('POST', '/api/targets', ['name' => 'quay one', 'url' => $url, 'intervalSeconds' => 5])[1];
        $found = function (string $way): array {
            $all = $this->ines->send(...($way === 'look' ? ['POST', '/api/findings/look', []] : ['GET', '/api/findings']))[1]['findings'];

            return array_values(array_filter($all, static fn(array $one): bool => $one['recipe'] === 'follows'));
        };
        try {
            Instance::eventually(static fn(): bool => count($found('look')) === 1, 60, 'it is read, and so found');
            $id = $found('')[0]['id'];
            $this->ines->send('POST', "/api/findings/{$id}/aside", ['reason' => 'it is meant']);
            foreach (['quay two', 'quay one', 'quay two'] as $name) {
                [$status] = $this->ines->change("/api/targets/{$target['id']}", ['name' => $name, 'url' => $url, 'intervalSeconds' => 5, 'labels' => []]);
                self::assertSame(200, $status);
                foreach (['', 'look'] as $way) {
                    $one = $found($way);
                    self::assertCount(1, $one, "{$name} {$way}");
                    self::assertSame([$id, 'it is meant', $name], [$one[0]['id'], $one[0]['reason'], $one[0]['labels']['target']]);
                }
            }
        } finally {
            $this->ines->send('DELETE', "/api/targets/{$target['id']}", []);
            unlink("{$folder}/follows.yaml");
            $this->ines->send('POST', '/api/findings/look', []);
        }
    }

    private static function webServer(int $port): void
    {
        $folder = self::$folder;
        $socket = "{$folder}/fpm.sock";
        file_put_contents("{$folder}/fpm.conf", implode("\n", [
            '[global]', "error_log = {$folder}/fpm.log", 'daemonize = no', "pid = {$folder}/fpm.pid",
            '[www]', 'user = www-data', 'group = www-data', "listen = {$socket}", 'listen.mode = 0666',
            'pm = static', 'pm.max_children = 2', 'pm.status_path = /fpm-status', '',
        ]));
        self::begun(['/usr/sbin/php-fpm8.2', '-n', '-y', "{$folder}/fpm.conf", '-F']);
        $paths = array_map(static fn(string $of): string => "{$of}_temp_path {$folder}/{$of};", ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']);
        $fpm = "fastcgi_pass unix:{$socket}; fastcgi_param SCRIPT_NAME /fpm-status; fastcgi_param SCRIPT_FILENAME /fpm-status;
            fastcgi_param REQUEST_METHOD GET; fastcgi_param QUERY_STRING \$query_string; fastcgi_param REQUEST_URI \$request_uri;";
        file_put_contents("{$folder}/nginx.conf", implode("\n", [
            "daemon off; pid {$folder}/pid; error_log {$folder}/errors; worker_processes 1; user root;",
            'events { worker_connections 64; }',
            'http { access_log off;',
            ...$paths,
            "server { listen 127.0.0.1:{$port}; location /status { stub_status; } location /fpm-status { {$fpm} } location / { return 200 'ahoy'; } }",
            '}',
        ]));
        self::begun(['/usr/sbin/nginx', '-c', "{$folder}/nginx.conf", '-e', "{$folder}/errors"]);
    }
}

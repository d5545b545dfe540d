<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\Yaml\Yaml;

/** Rules in files: read, tested and replayed without a server, and kept in step with the rules of an instance. */
final class RuleFilesTest extends TestCase
{
    use CommandsOnFiles {
        tearDown as removeFolder;
    }

    private const SCHEMA = __DIR__ . '/../../docs/formats/rules.schema.json';
    private const BOARDING = <<<'YAML'
        olivine: 1
        # What the piers look at.
        rules:
          test-boarding:
            name: Boarding in files   # as the crew calls it
            watch: mean(messaging_queue_depth where queue = "boarding", 1m)
            raise:
              # the crew said 400 in May
              major: above 400 for 1m
              critical: above 1200
            clear: at or below 300 for 2m
            seen: 75%
            except:
              queue = "boarding" and broker like "south*": { minor: 200, critical: 900, clear: 150 }
            labels: { tier: "1" }
            words: { critical: Lorries wait at the pier. }
            runbook: |
              Look at the consumers first.

              Then at the broker.
          test-quiet:
            watch: messaging_queue_depth
            raise: { minor: 'departs below its usual (same hours, 14d) by 5 for 20m' }
            depends-on: [test-boarding]
        rule-tests:
          the queue backs up:
            rule: test-boarding
            readings:
              'messaging_queue_depth{queue="boarding",broker="north"}': 100 x 20, 500 x 30, 1500 x 20, 100 x 40
            expect:
              - { at: 6m45s, to: raised, severity: major, labels: { broker: north } }
              - { at: 13m, to: raised, severity: critical }
              - { at: 20m15s, to: calm }
          a gap is not calm:
            rule: test-boarding
            readings:
              'messaging_queue_depth{queue="boarding"}': 500 x 20, nothing x 60, 500 to 100 x 9, 100 x 20
            expect:
              - { at: 1m, to: raised }
              - { at: 15m15s, to: blind }
              - { at: 20m30s, to: raised }
              - { at: 23m30s, to: calm }

        YAML;

    protected function tearDown(): void
    {
        $this->removeFolder();
        $client = new Client('ines@saltmarsh.example');
        foreach (['Quiet in files', 'Test quiet', 'Boarding in files', 'Boarding, renamed'] as $name) {
            foreach (self::listed($client, '/api/rules') as $rule) {
                if ($rule['definition']['name'] === $name) {
                    $client->send('DELETE', "/api/rules/{$rule['id']}", []);
                }
            }
        }
    }

    /** @return iterable<string, array{string, int, int, string}> what stands in the file, line, column, message */
    public static function faults(): iterable
    {
        $rule = static fn(string $lines): string => "olivine: 1\nrules:\n  a:\n    watch: up\n    raise: { major: above 1 }\n{$lines}";
        yield 'nothing' => ['', 1, 1, 'begins with olivine: 1'];
        yield 'another version' => ["rules: {}\nolivine: 2\n", 2, 1, 'begins with olivine: 1'];
        yield 'no YAML' => ["olivine: 1\nrules:\n  a: {b: [}\n", 3, 1, 'this is no YAML'];
        yield 'a comma within braces' => [
            "olivine: 1\nrules:\n  a:\n    watch: up\n    raise: { major: a (b, c) by 2 }\n",
            5,
            1,
            'words with a comma stand in quotes',
        ];
        yield 'an unknown kind' => ["olivine: 1\nrulez: {}\n", 2, 1, 'there is no key rulez here; did you mean rules?'];
        yield 'an unknown key' => [$rule("    depend-on: [b]\n"), 6, 5, 'did you mean depends-on?'];
        yield 'a key of a key that is none' => ["olivine: 1\nrules:\n  A B:\n    watch: up\n    raise: { major: above 1 }\n", 3, 3, 'a key is small letters'];
        yield 'words in a flow' => ["olivine: 1\nrules:\n  a:\n    watch: up\n    raise: { minor: above 1, major: abve 4 }\n", 5, 37, 'did you mean above?'];
        yield 'a formula' => ["olivine: 1\nrules:\n  a:\n    watch: mean(up, 5x)\n    raise: { major: above 1 }\n", 4, 21, 'x is no unit'];
        yield 'a formula on lines of its own' => [
            "olivine: 1\nrules:\n  a:\n    watch: |\n      mean(\n        up, 5x)\n    raise: { major: above 1 }\n",
            6,
            13,
            'x is no unit',
        ];
        yield 'a graver limit that is milder' => ["olivine: 1\nrules:\n  a:\n    watch: up\n    raise: { minor: above 4, major: above 3 }\n", 5, 5, 'raise'];
        yield 'half a second' => [$rule("    clear: for 500ms\n"), 6, 5, 'must be whole seconds'];
        yield 'too seldom' => [$rule("    every: 2h\n"), 6, 5, 'every must be a whole number from 15 to 3600'];
        yield 'a label of labels' => [$rule("    labels: { a: { b: c } }\n"), 6, 5, 'label a must'];
        yield 'a runbook that runs' => [$rule("    off: maybe\n"), 6, 5, 'off must be true or false'];
        yield 'a test without a rule' => [
            "olivine: 1\nrule-tests:\n  t:\n    readings: { up: 1 x 2 }\n    expect: []\n",
            3,
            3,
            'rule names the rule by its key',
        ];
        yield 'readings that are none' => [
            "olivine: 1\nrule-tests:\n  t:\n    rule: a\n    readings: { up: one }\n    expect: []\n",
            5,
            17,
            'such as 100 x 20',
        ];
        yield 'more readings than there is room for' => [
            "olivine: 1\nrule-tests:\n  t:\n    rule: a\n    readings: { up: 1 x 9999999 }\n",
            5,
            17,
            'more than 1000000 readings',
        ];
    }

    #[DataProvider('faults')]
    public function testAFaultIsToldWithFileLineAndColumn(string $text, int $line, int $column, string $message): void
    {
        [$code, $said] = $this->check($text);
        $first = $said['faults'][0] ?? [];
        self::assertSame(1, $code, (string) json_encode($said));
        self::assertSame([$line, $column], [$first['line'] ?? 0, $first['column'] ?? 0], (string) json_encode($said));
        self::assertStringContainsString($message, $first['message'] ?? '');
        self::assertStringEndsWith('rules.yaml', $first['file'] ?? '');
    }

    public function testTheSchemaSaysWhatMayStandInAFile(): void
    {
        $schema = (string) file_get_contents(self::SCHEMA);
        $isValid = static fn(string $yaml): bool => (new Validator())
            ->validate(Yaml::parse($yaml, Yaml::PARSE_OBJECT_FOR_MAP), $schema)
            ->isValid();
        self::assertTrue($isValid(self::BOARDING));
        self::assertSame([0, ['ok' => true, 'rules' => 2, 'tests' => 2, 'faults' => []]], $this->check(self::BOARDING));
        foreach (['watch:' => 'wach:', 'major: above' => 'majer: above', 'olivine: 1' => 'olivine: 2', 'to: blind' => 'to: gone'] as $word => $other) {
            $text = preg_replace('~' . preg_quote($word, '~') . '~', $other, self::BOARDING, 1);
            self::assertFalse($isValid((string) $text), $other);
            self::assertSame(1, $this->check((string) $text)[0], $other);
        }
    }

    public function testMutatedFilesAreReadOrRefusedInOurWords(): void
    {
        $random = new Randomizer(new Mt19937(7));
        $signs = ["\n", ' ', ':', '-', '{', '}', '"', "'", '&a', '*a', '|', '<<', '!', "\t", '~', '9999999999999999999999', "\xff", 'watch', '  '];
        $codes = [0 => 0, 1 => 0];
        for ($i = 0; $i < 10_000; ++$i) {
            $text = self::BOARDING;
            for ($n = $random->getInt(1, 3); $n > 0; --$n) {
                $at = $random->getInt(0, strlen($text));
                $text = match ($random->getInt(0, 2)) {
                    0 => substr_replace($text, $signs[$random->getInt(0, count($signs) - 1)], $at, 0),
                    1 => substr_replace($text, '', $at, $random->getInt(1, 20)),
                    default => substr_replace($text, substr($text, $random->getInt(0, strlen($text) - 30), 30), $at, 0),
                };
            }
            [$code, $said] = $this->check($text);
            self::assertSame($code === 0, $said['faults'] === [], $text);
            foreach ($said['faults'] as $fault) {
                self::assertGreaterThan(0, min($fault['line'], $fault['column']), $text);
            }
            ++$codes[$code];
        }
        self::assertGreaterThan(500, min($codes), (string) json_encode($codes));
    }

    public function testRuleTestsSayWhatDiffers(): void
    {
        $this->write('rules.yaml', self::BOARDING);
        [$code, $said] = self::called('olivine:rules:test', ['files' => [$this->folder]]);
        self::assertSame(0, $code, $said);
        self::assertStringContainsString('2 tests, all as expected', $said);
        $this->write('rules.yaml', str_replace(['at: 6m45s', 'severity: critical'], ['at: 7m', 'severity: warning'], self::BOARDING));
        [$code, $said] = self::called('olivine:rules:test', ['files' => [$this->folder]]);
        self::assertSame(1, $code);
        self::assertStringContainsString("the queue backs up: not as expected\n", $said);
        self::assertMatchesRegularExpression('~seen, not expected:  6m45s +raised +major +broker=north queue=boarding~', $said);
        self::assertMatchesRegularExpression('~expected, not seen:  7m +raised +major +broker=north~', $said);
        self::assertMatchesRegularExpression('~expected, not seen:  13m +raised +warning~', $said);
        self::assertStringContainsString('2 tests, one not as expected', str_replace('1 not', 'one not', $said));
    }

    public function testAReplayOverAFilePrintsTransitions(): void
    {
        $this->write('rules.yaml', self::BOARDING);
        $lines = '';
        for ($i = 0; $i < 40; ++$i) {
            $lines .= 'messaging_queue_depth{queue="boarding"} ' . ($i < 20 ? 100 : 500) . ' ' . (1_767_225_600 + 15 * $i) . "\n";
        }
        file_put_contents("{$this->folder}/data.openmetrics", "# TYPE messaging_queue_depth gauge\n{$lines}# EOF\n");
        $call = ['files' => [$this->folder], '--data' => "{$this->folder}/data.openmetrics", '--from' => '2026-01-01T00:00:00Z', '--to' => '1767226200'];
        [$code, $said] = self::called('olivine:rules:replay', $call);
        self::assertSame(0, $code, $said);
        $moved = array_map(static fn(string $line): array => json_decode($line, true, 8, JSON_THROW_ON_ERROR), explode("\n", trim($said)));
        $ofBoarding = array_values(array_filter($moved, static fn(array $one): bool => $one['rule'] === 'test-boarding'));
        self::assertSame(
            [
                [
                    'rule' => 'test-boarding',
                    'labels' => ['queue' => 'boarding'],
                    'at' => 1_767_225_945,
                    'from' => 'calm',
                    'to' => 'building',
                    'severity' => null,
                    'value' => 500.0,
                ],
                [
                    'rule' => 'test-boarding',
                    'labels' => ['queue' => 'boarding'],
                    'at' => 1_767_226_005,
                    'from' => 'building',
                    'to' => 'raised',
                    'severity' => 'major',
                    'value' => 500.0,
                ],
            ],
            $ofBoarding,
            'the mean of a minute is above 400 with its fourth reading, and a minute later it is raised',
        );
        self::assertSame(2, self::called('olivine:rules:replay', ['--to' => 'soon'] + $call)[0]);
        self::assertSame(2, self::called('olivine:rules:replay', ['--data' => "{$this->folder}/nothing"] + $call)[0]);
    }

    public function testFilesAndPageAreKeptInStep(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $this->write('rules.yaml', self::BOARDING);
        $dir = ['dir' => [$this->folder]];
        [$code, $said] = self::called('olivine:rules:plan', $dir);
        self::assertSame(2, $code, $said);
        self::assertMatchesRegularExpression('~^add +test-boarding +Boarding in files .*\n +in the last 7 d it would have raised ~m', $said);
        [$code, $said] = self::called('olivine:rules:apply', $dir + ['--reason' => 'the piers asked']);
        self::assertSame(0, $code, $said);
        self::assertSame(0, self::called('olivine:rules:plan', $dir)[0], 'once applied, nothing is left to do');

        $rule = $this->rule($client, 'Boarding in files');
        self::assertStringEndsWith('rules.yaml', (string) $rule['file']);
        self::assertSame('the piers asked', self::listed($client, "/api/rules/{$rule['id']}/revisions")[0]['reason']);
        self::assertSame(['Boarding in files'], $this->rule($client, 'Test quiet')['definition']['dependsOn'], 'named by its key');

        $definition = $rule['definition'];
        $definition['condition']['limits'][0]['limit'] = 500;
        $body = ['definition' => $definition, 'enabled' => true, 'version' => $rule['version']];
        self::assertSame(409, $client->send('PUT', "/api/rules/{$rule['id']}", $body)[0], 'it comes from a file');
        self::assertSame(200, $client->send('PUT', "/api/rules/{$rule['id']}", $body + ['overFile' => true])[0]);
        [$code, $said] = self::called('olivine:rules:plan', $dir + ['--no-replay' => true]);
        self::assertSame(2, $code);
        self::assertStringContainsString('by hand', $said);
        self::assertStringContainsString('raise.major: above 500 for 1m → above 400 for 1m   (applied: above 400 for 1m)', $said);
        [$code, $said] = self::called('olivine:rules:apply', $dir);
        self::assertSame(1, $code, 'nobody said which is meant');
        self::assertStringContainsString('--keep hand or --keep file', $said);
        self::assertSame(0, self::called('olivine:rules:apply', $dir + ['--keep' => 'hand'])[0]);
        self::assertSame(500, $this->rule($client, 'Boarding in files')['definition']['condition']['limits'][0]['limit']);

        self::assertSame(0, self::called('olivine:rules:export', ['dir' => $this->folder])[0]);
        $text = (string) file_get_contents("{$this->folder}/rules.yaml");
        self::assertStringContainsString('      major: above 500 for 1m', $text);
        $kept = [
            '# What the piers look at.',
            '# as the crew calls it',
            '# the crew said 400 in May',
            "      Then at the broker.\n",
            'rule-tests:',
            '{ at: 6m45s, to: raised',
        ];
        foreach ($kept as $words) {
            self::assertStringContainsString($words, $text, 'what somebody wrote stays');
        }
        self::assertFileExists("{$this->folder}/rules-2.yaml", 'the rules that stood in no file');
        self::assertSame(0, $this->check($text)[0]);
    }

    public function testAnApplyIsAllOrNothingAndRenamesWithItsHistory(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $this->write('rules.yaml', self::BOARDING);
        $dir = ['dir' => [$this->folder]];
        $missing = str_replace('depends-on: [test-boarding]', 'depends-on: [no-such-rule]', self::BOARDING);
        $this->write('rules.yaml', $missing);
        [$code, $said] = self::called('olivine:rules:apply', $dir);
        self::assertSame(1, $code);
        self::assertStringContainsString('there is no rule no-such-rule', $said);
        self::assertNull($this->found($client, 'Boarding in files'), 'nothing of it is there');

        $this->write('rules.yaml', self::BOARDING);
        self::assertSame(0, self::called('olivine:rules:apply', $dir)[0]);
        $id = $this->rule($client, 'Boarding in files')['id'];
        $this->write('rules.yaml', str_replace(
            ["  test-boarding:\n", 'name: Boarding in files', 'rule: test-boarding', 'depends-on: [test-boarding]'],
            ["  test-piers:\n    was: test-boarding\n", 'name: Boarding, renamed', 'rule: test-piers', 'depends-on: [test-piers]'],
            self::BOARDING,
        ));
        [, $said] = self::called('olivine:rules:plan', $dir + ['--no-replay' => true]);
        self::assertStringContainsString('(was test-boarding)', $said);
        self::assertSame(0, self::called('olivine:rules:apply', $dir)[0], $said);
        $renamed = $this->rule($client, 'Boarding, renamed');
        self::assertSame($id, $renamed['id']);
        self::assertCount(2, self::listed($client, "/api/rules/{$id}/revisions"));
        self::assertSame(['Boarding, renamed'], $this->rule($client, 'Test quiet')['definition']['dependsOn']);
    }

    /** @return list<array<string, mixed>> */
    private static function listed(Client $client, string $path): array
    {
        /** @var list<array<string, mixed>> */
        return $client->send('GET', $path)[1];
    }

    /** @return array{int, array{ok: bool, faults: list<array{file: string, line: int, column: int, message: string}>}} */
    private function check(string $text): array
    {
        $this->write('rules.yaml', $text);
        [$code, $said] = self::called('olivine:rules:check', ['files' => ["{$this->folder}/rules.yaml"]]);

        return [$code, json_decode($said, true, 8, JSON_THROW_ON_ERROR)];
    }

    /** @return array<string, mixed>|null */
    private function found(Client $client, string $name): ?array
    {
        return array_find(self::listed($client, '/api/rules'), static fn(array $rule): bool => $rule['definition']['name'] === $name);
    }

    /** @return array<string, mixed> */
    private function rule(Client $client, string $name): array
    {
        return $this->found($client, $name) ?? self::fail("There is no rule {$name}");
    }
}

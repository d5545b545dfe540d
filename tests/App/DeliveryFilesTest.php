<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\Definition\HoursDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\StretchDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\Delivery\Files\PlanTextReader;
use Olivine\App\Delivery\PlanText;
use Olivine\App\Files\BadText;
use Olivine\Core\Delivery\Listener;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\Yaml\Yaml;

/** Who hears in files: read as one says it, tried without a server, and kept in step with what is in service. */
final class DeliveryFilesTest extends TestCase
{
    use CommandsOnFiles;

    private const DOCS = __DIR__ . '/../../docs/formats';
    private const FILES = <<<'YAML'
        olivine: 1
        paths:
          - made up in files: { for: 'service = "test-files"', hours: mon-sun 00:00-24:00 Europe/Lisbon, group: per queue, gather: 2s, ladder: desk in files }
          - everything else: { group: per service, gather: 2s, ladder: desk in files }
        ladders:
          desk in files:
            rungs:
              - team "night desk" by e-mail, then 15m
              - on call and person ines@saltmarsh.example
        teams:
          night desk: [tomasz@saltmarsh.example]

        YAML;

    /** @return iterable<string, array{string, int, string}> what is written, the byte at which it is wrong, and what should come there */
    public static function wrongRungs(): iterable
    {
        yield 'nothing' => ['', 0, 'here comes who is told: on call, next on call'];
        yield 'somebody of no kind' => ['ines by e-mail', 0, 'here comes who is told'];
        yield 'a team without a name' => ['team', 0, 'here comes who is told'];
        yield 'a person without an address' => ['person , then 5m', 7, 'here comes the address of a person'];
        yield 'and nobody' => ['on call and ', 12, 'here comes who is told'];
        yield 'by nothing' => ['on call by ', 11, 'here comes a channel'];
        yield 'then for ever' => ['on call, then a while', 14, 'here comes how long, such as 15m'];
        yield 'then a size' => ['on call, then 5MiB', 14, 'here comes how long, such as 15m'];
        yield 'a quote that stays open' => ['team "night desk', 5, 'here comes the name of a team'];
        yield 'words after the end' => ['on call, then 5m or so', 17, 'or the end'];
        yield 'two of them without and' => ['on call next on call', 8, 'here comes and, by'];
    }

    #[DataProvider('wrongRungs')]
    public function testARungThatIsNone(string $written, int $offset, string $words): void
    {
        try {
            PlanTextReader::rung($written);
            self::fail('it was taken');
        } catch (BadText $fault) {
            self::assertSame($offset, $fault->offset);
            self::assertStringContainsString($words, $fault->getMessage());
        }
    }

    /** Whatever rung and whatever hours: what is written of them is read as the same again. */
    public function testWhatIsWrittenIsReadAsTheSame(): void
    {
        $random = new Randomizer(new Mt19937(28));
        $names = ['piers', 'night desk', 'a,b', 'Öl', 'and', 'by', 'x@y.example', 'on call'];
        $name = static fn(): string => $names[$random->getInt(0, count($names) - 1)];
        $who = static function () use ($random, $name): WhoDefinition {
            $listener = Listener::cases()[$random->getInt(0, 5)];

            return new WhoDefinition($listener, match (true) {
                in_array($listener, [Listener::Person, Listener::Team, Listener::Role], true) => $name(),
                $listener !== Listener::Owner && $random->getInt(0, 1) === 0 => $name(),
                default => '',
            });
        };
        $clock = static fn(): string => sprintf('%02d:%02d', $random->getInt(0, 23), $random->getInt(0, 59));
        for ($round = 0; $round < 500; ++$round) {
            $rung = new RungDefinition(
                array_map($who, range(1, $random->getInt(1, 3))),
                $random->getInt(0, 1) === 0 ? [] : array_map($name, range(1, $random->getInt(1, 2))),
                $random->getInt(0, 100_000),
            );
            self::assertEquals($rung, PlanTextReader::rung(PlanText::rung($rung, false)), PlanText::rung($rung, false));
            $days = range(1, 7);
            $stretch = static fn(): StretchDefinition => new StretchDefinition(
                array_values(array_filter($days, static fn(int $day): bool => $random->getInt(0, 2) > 0)) ?: [3],
                $clock(),
                $random->getInt(0, 5) === 0 ? '24:00' : $clock(),
            );
            $hours = new HoursDefinition(
                array_map($stretch, range(1, $random->getInt(1, 3))),
                'Europe/Lisbon',
                $random->getInt(0, 1) === 0 ? [] : ['12-25', '2027-04-02', 'holidays'],
            );
            self::assertEquals($hours, PlanTextReader::hours(PlanText::hours($hours)), PlanText::hours($hours));
        }
    }

    public function testHolidaysAreThoseOfTheSite(): void
    {
        $hours = PlanTextReader::hours('mon-fri 08:00-18:00 Europe/Lisbon except 12-25, holidays');
        self::assertSame(['12-25', '2026-12-24'], $hours->core(['2026-12-24'])->daysOff);
        self::assertSame(['12-25'], $hours->core([])->daysOff);
        self::assertSame('mon-fri 08:00-18:00 Europe/Lisbon except 12-25, holidays', PlanText::hours($hours));
    }

    /** @return iterable<string, array{string, int, int, string}> what stands in the file, line, column, message */
    public static function faults(): iterable
    {
        $ladder = "olivine: 1\nladders:\n  a:\n    rungs:\n      - on call\n";
        yield 'paths that are no list' => ["olivine: 1\npaths:\n  boarding: { ladder: a }\n", 2, 1, 'paths must be a list'];
        yield 'two keys in an item' => ["olivine: 1\npaths:\n  - a: { ladder: a }\n    b: { ladder: a }\n", 3, 3, 'each of paths is one key'];
        yield 'a rung' => ["olivine: 1\nladders:\n  a:\n    rungs:\n      - on call, then soon\n", 5, 23, 'here comes how long'];
        yield 'hours' => ["{$ladder}paths:\n  - b: { hours: mon-fri 8-18, ladder: a }\n", 7, 0, 'here comes from when, such as 08:00'];
        yield 'a group' => ["{$ladder}paths:\n  - b: { group: service, ladder: a }\n", 7, 0, 'group must be per with labels'];
        yield 'an unknown key' => ["{$ladder}copies:\n  c: { too: by room }\n", 7, 0, 'did you mean to?'];
        yield 'a team of no list' => ["{$ladder}teams:\n  t: ines\n", 7, 0, 'a team is a list of addresses'];
        yield 'twice' => ["{$ladder}paths:\n  - b: { ladder: a }\n  - b: { ladder: a }\n", 8, 0, 'there is a path b in'];
    }

    #[DataProvider('faults')]
    public function testWhatIsWrongIsToldAtItsPlace(string $text, int $line, int $column, string $message): void
    {
        $this->write('delivery.yaml', $text);
        [$code, $said] = self::called('olivine:delivery:plan', ['dir' => [$this->folder]]);
        self::assertSame(1, $code, $said);
        self::assertMatchesRegularExpression("~delivery\\.yaml:{$line}:" . ($column === 0 ? '\d+' : $column) . ': .*' . preg_quote($message, '~') . '~', $said);
    }

    public function testTheExampleOfTheFormatFitsItsSchemaAndTriesWithoutAServer(): void
    {
        preg_match('~```yaml\n(.*?)```~s', (string) file_get_contents(self::DOCS . '/delivery.md'), $example);
        $this->write('delivery.yaml', $example[1] ?? '');
        $schema = json_decode((string) file_get_contents(self::DOCS . '/delivery.schema.json'), false, 32, JSON_THROW_ON_ERROR);
        $data = json_decode(json_encode(Yaml::parse($example[1] ?? ''), JSON_THROW_ON_ERROR), false, 32, JSON_THROW_ON_ERROR);
        self::assertNull((new Validator())->validate($data, $schema)->error());
        $try = ['--config' => $this->folder, '--at' => '2026-11-27T03:12:00Z'];
        $this->write('rosters.yaml', <<<'YAML'
            olivine: 1
            rosters:
              turns:
                zone: UTC
                rotations:
                  turns: { people: [ines@saltmarsh.example, tomasz@saltmarsh.example], from: 2026-01-05, change: "daily at 06:00 and 18:00" }
            YAML);
        [$code, $said] = self::called('olivine:try', ['--labels' => 'service=boarding-gate broker=broker-north site=skarn', '--severity' => 'major'] + $try);
        self::assertSame(0, $code, $said);
        $told = array_values(array_filter(self::lines($said), static fn(array $one): bool => $one['what'] === 'tell'));
        self::assertSame([null, 'skarn room' => 'harbour-board'], [$told[0]['person'], 'skarn room' => $told[0]['channel']]);
        $rungs = array_map(static fn(array $one): string => "{$one['rung']} {$one['person']} {$one['channel']}", array_slice($told, 1, 5));
        sort($rungs);
        self::assertSame(
            [
                '1 tomasz@saltmarsh.example e-mail', '1 tomasz@saltmarsh.example harbour-board', '2 ines@saltmarsh.example e-mail',
                '2 oyelaran@saltmarsh.example e-mail', '2 tomasz@saltmarsh.example e-mail',
            ],
            $rungs,
        );
        $this->write('happened.jsonl', implode("\n", [
            '{"at": 1795749120, "rule": "q", "labels": {"service": "tickets"}, "to": "raised", "severity": "minor"}',
            '{"at": 1795749420, "rule": "q", "labels": {"service": "tickets"}, "to": "calm"}',
        ]));
        $deliver = ['--transitions' => "{$this->folder}/happened.jsonl", '--from' => '2026-11-27T00:00:00Z', '--to' => '2026-11-28T00:00:00Z'];
        [$code, $said] = self::called('olivine:deliver', $deliver + array_diff_key($try, ['--at' => 1]));
        self::assertSame(0, $code, $said);
        $told = array_filter(self::lines($said), static fn(array $one): bool => $one['what'] === 'tell');
        self::assertSame(
            ['1795749130 rung 2', '1795749420 recovered'],
            array_map(static fn(array $one): string => "{$one['at']} {$one['because']}", array_values($told)),
            'nobody owns it, so the next rung at once',
        );
        $this->write('happened.jsonl', "{\"at\": 1}\n");
        [$code, $said] = self::called('olivine:deliver', $deliver + array_diff_key($try, ['--at' => 1]));
        self::assertSame(2, $code);
        self::assertStringContainsString('happened.jsonl:1: a line is', $said);
    }

    public function testPlanAndApplyKeepAnInstanceInStepWithItsFiles(): void
    {
        $letOthers = Instance::alone('plan');
        $client = new Client('ines@saltmarsh.example');
        $number = static fn(): int => $client->send('GET', '/api/plan')[1]['inService']['number'];
        $before = $number();
        $dir = ['dir' => [$this->folder]];
        $this->write('delivery.yaml', self::FILES);
        try {
            [$code, $said] = self::called('olivine:delivery:plan', $dir);
            self::assertSame(2, $code, $said);
            self::assertMatchesRegularExpression('~added\s+path made up in files\s+.*delivery\.yaml~', $said);
            self::assertStringContainsString('up the ladder: on call → desk in files', $said);
            self::assertSame($before, $number(), 'a plan changes nothing');
            [$code, $said] = self::called('olivine:delivery:apply', $dir + ['--by' => 'ines@saltmarsh.example', '--reason' => 'from the repository']);
            self::assertSame([0, $before + 1], [$code, $number()], $said);
            [$revision] = $client->send('GET', '/api/plan/revisions')[1];
            self::assertSame(['Ines Duarte', 'from the repository'], [$revision['author'], $revision['reason']]);
            [$code, $said] = self::called('olivine:delivery:plan', $dir);
            self::assertSame([0, "Nothing to do: who hears is as the files say.\n"], [$code, $said]);

            [, $exported] = self::called('olivine:delivery:export', []);
            $this->write('delivery.yaml', $exported);
            self::assertSame(0, self::called('olivine:delivery:plan', $dir)[0], "what is written is read as the same: {$exported}");

            $ladder = array_column(array_column($client->send('GET', '/api/plan')[1]['inService']['ladders'], 'definition'), null, 'name')['desk in files'];
            $hand = ['definition' => ['until' => 'resolved'] + $ladder, 'was' => $ladder];
            $page = $client->send('PUT', '/api/plan/draft/ladders/' . rawurlencode('desk in files'), $hand)[1];
            $fileOf = array_column($page['files'], 'file', 'part');
            self::assertStringEndsWith('delivery.yaml', $fileOf['ladder desk in files'], 'the page says where it comes from');
            $byHand = ['version' => $page['draft']['version'], 'reason' => 'by hand'];
            [$status, $problem] = $client->send('PUT', '/api/plan', $byHand);
            self::assertSame(409, $status, 'not by accident');
            self::assertStringContainsString('ladder desk in files from', $problem['title']);
            self::assertSame(200, $client->send('PUT', '/api/plan', $byHand + ['overFiles' => true])[0]);
            [$code, $said] = self::called('olivine:delivery:plan', $dir);
            self::assertSame(2, $code);
            self::assertStringContainsString('changed by hand since the last apply', $said);
            [$code, $said] = self::called('olivine:delivery:apply', $dir);
            self::assertSame(1, $code);
            self::assertStringContainsString('Say which is meant: --keep hand or --keep file', $said);
            // Rules and who hears go together, or not at all.
            $this->write('rules.yaml', "olivine: 1\nrules:\n  with-files: { watch: messaging_queue_depth, raise: { minor: above 1e9 } }\n");
            $names = static fn(): array => array_column(array_column($client->send('GET', '/api/rules')[1], 'definition'), 'name', 'name');
            $here = $number();
            [$code, $said] = self::called('olivine:apply', $dir);
            self::assertSame([1, $here, false], [$code, $number(), isset($names()['With files'])], $said);
            [$code, $said] = self::called('olivine:apply', $dir + ['--keep' => 'file', '--by' => 'ines@saltmarsh.example']);
            self::assertSame([0, $here + 1, true], [$code, $number(), isset($names()['With files'])], $said);

            $this->write('delivery.yaml', str_replace('tomasz@', 'tomas@', $exported));
            [$code, $said] = self::called('olivine:delivery:plan', $dir);
            self::assertSame(1, $code);
            self::assertStringContainsString('did you mean tomasz@saltmarsh.example?', $said);
        } finally {
            foreach ($client->send('GET', '/api/rules')[1] as $rule) {
                if ($rule['definition']['name'] === 'With files') {
                    $client->send('DELETE', "/api/rules/{$rule['id']}", []);
                }
            }
            Instance::connect()->executeStatement("DELETE FROM setting WHERE name = 'parts from files'");
            $page = $client->send('POST', '/api/plan/draft', ['revision' => $before])[1];
            $client->send('PUT', '/api/plan', ['version' => $page['draft']['version'], 'reason' => 'as it was']);
            $letOthers();
        }
    }

    /** @return list<array<string, mixed>> */
    private static function lines(string $said): array
    {
        return array_map(
            static fn(string $line): array => json_decode($line, true, 8, JSON_THROW_ON_ERROR),
            array_values(array_filter(explode("\n", $said), static fn(string $line): bool => $line !== '')),
        );
    }
}

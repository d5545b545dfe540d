<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What one asks of a rule before it is in service, and of many at once. */
final class RuleBenchTest extends TestCase
{
    private Client $client;

    protected function setUp(): void
    {
        $this->client = new Client('ines@saltmarsh.example');
    }

    /** Each fits what is watched, with a limit that its own week hardly came to, and can be put into service as it is. */
    public function testStarterRulesFitWhatIsWatched(): void
    {
        [$status, $starters] = $this->client->send('GET', '/api/rules/starters');
        self::assertSame(200, $status);
        $things = array_unique(array_column($starters, 'thing'));
        foreach (['every target', 'host', 'container', 'broker', 'database', 'web server', 'certificate'] as $thing) {
            self::assertContains($thing, $things);
        }
        $there = array_column(array_filter($starters, static fn(array $one): bool => $one['isThere']), 'definition');
        self::assertContains('Processors busy', array_column($there, 'name'), 'the demo looks at its processors');
        foreach ($starters as ['definition' => $definition, 'reason' => $reason, 'because' => $because]) {
            self::assertNotSame('', $reason . $because);
            [$status, $replay, $text] = $this->client->send('POST', '/api/rules/replay', ['definition' => $definition, 'hours' => 72]);
            self::assertSame(200, $status, "{$definition['name']}: {$text}");
            // Of this machine, and of its own scrapes, Olivine knows since it runs only.
            $newest = $this->client->send('POST', '/api/rules/replay', ['definition' => $definition, 'hours' => 1])[1];
            self::assertGreaterThan(0, $newest['series'], "{$definition['name']} looks at something");
            self::assertLessThan(20, count($replay['spells']), "{$definition['name']} would not have been loud");
            $definition['name'] = "Starter test {$definition['name']}";
            [$status, $rule, $text] = $this->client->send('POST', '/api/rules', ['definition' => $definition, 'enabled' => false]);
            self::assertSame(201, $status, $text);
            self::assertSame(204, $this->client->send('DELETE', "/api/rules/{$rule['id']}", [])[0]);
        }
    }

    /** By the ladder and the rota as they are: each incident tells who is on call, and the next one where it lasts. */
    public function testAReplayTellsWhoWouldHaveHeard(): void
    {
        $heard = function (float $limit, string $service): array {
            $formula = 'mean(messaging_queue_depth where queue = "boarding", 5m)';
            $written = PlainRule::of(['name' => 'Heard', 'formula' => $formula, 'limit' => $limit, 'service' => $service]);
            [$status, $replay, $text] = $this->client->send('POST', '/api/rules/replay', ['definition' => $written['definition'], 'hours' => 72]);
            self::assertSame(200, $status, $text);

            return [count($replay['spells']), $replay['heard']];
        };
        self::assertSame([0, ['incidents' => 0, 'people' => [], 'unheard' => 0]], $heard(9e9, 'queues'));
        [$alerts, $together] = $heard(130.0, 'queues');
        self::assertGreaterThan(2, $alerts, 'every day has hours that busy');
        self::assertLessThanOrEqual($alerts, $together['incidents'], 'alerts of one service are one incident while they are up');
        $names = array_column((new Client('admin@saltmarsh.example'))->send('GET', '/api/people')[1], 'name');
        $told = 0;
        foreach ($together['people'] as ['name' => $name, 'messages' => $messages, 'atNight' => $atNight]) {
            self::assertContains($name, $names);
            self::assertLessThanOrEqual($messages, $atNight);
            $told += $messages;
        }
        $reached = $together['incidents'] - $together['unheard'];
        self::assertGreaterThan(0, $reached);
        self::assertGreaterThanOrEqual($reached, $told, 'of each that lasts long enough somebody hears');
        self::assertLessThanOrEqual(3 * $alerts, $told, 'there are three rungs, which are climbed anew where it comes up again');
    }

    public function testManyRulesAreSwitchedAtOnceAndBack(): void
    {
        $names = ['One of many', 'Another of many'];
        $ids = array_map(
            fn(string $name): int => $this->client->send('POST', '/api/rules', PlainRule::of(['name' => $name, 'enabled' => true]))[1]['id'],
            $names,
        );
        try {
            $many = fn(bool $enabled, array $of): array => $this->client->send('POST', '/api/rules/many', ['enabled' => $enabled, 'ids' => $of]);
            self::assertEqualsCanonicalizing([200, ['changed' => [$ids[0]]]], array_slice($many(false, [$ids[0], 999_999_999]), 0, 2));
            self::assertSame([$ids[1]], $many(false, $ids)[1]['changed'], 'what is off already is not switched off again');
            self::assertSame([], $many(false, $ids)[1]['changed']);
            self::assertEqualsCanonicalizing($ids, $many(true, $ids)[1]['changed']);
            foreach ([[], ['x'], [1.5], range(1, 5_001)] as $hostile) {
                self::assertSame([422, 'ids'], [$many(true, $hostile)[0], $many(true, $hostile)[1]['field']]);
            }
            $audit = (new Client('admin@saltmarsh.example'))->send('GET', '/api/audit')[1];
            self::assertContains('2 rules', array_column($audit, 'subject'));
        } finally {
            array_map(fn(int $id): array => $this->client->send('DELETE', "/api/rules/{$id}", []), $ids);
        }
    }

    /** @return iterable<string, array{array<string, mixed>, string, list<string>}> what is written of the rule, its subject, words of its text */
    public static function messages(): iterable
    {
        $limits = static fn(float $limit): array => [['severity' => 'minor', 'limit' => $limit], ['severity' => 'critical', 'limit' => 9e12]];
        $queue = ['formula' => 'mean(messaging_queue_depth where queue = "boarding", 5m)', 'runbook' => "Look first.\n\nThen act."];
        yield 'past its limit' => [
            ['condition' => ['kind' => 'threshold', 'side' => 'above', 'limits' => $limits(1), 'clear' => 0], 'words' => ['minor' => 'Lorries wait.']] + $queue,
            '~^\[minor\] Previewed on broker-\w+ \(boarding\): [\d.,]+, limit above 1, since \d\d:\d\d$~',
            ['Lorries wait.', 'Look first.', 'has held above 1 for 1 min'],
        ];
        yield 'far from it' => [
            [
                'condition' => ['kind' => 'threshold', 'side' => 'above', 'limits' => $limits(8e12), 'clear' => 0],
                'words' => ['critical' => 'Never said.'],
            ] + $queue,
            '~^\[minor\] Previewed on broker-\w+ \(boarding\): [\d.,]+, limit above 8,000,000,000,000, ~',
            ['Look first.'],
        ];
        yield 'with a limit of its own' => [
            [
                'condition' => ['kind' => 'threshold', 'side' => 'above', 'limits' => $limits(8e12), 'clear' => 0],
                'others' => [['where' => 'queue = "boarding"', 'limits' => [['severity' => 'major', 'limit' => 2]], 'clear' => 1]],
            ] + $queue,
            '~^\[major\] Previewed on broker-\w+ \(boarding\): [\d.,]+, limit above 2,~',
            ['has held above 2 for 1 min'],
        ];
        yield 'of names' => [
            ['formula' => 'depth = messaging_queue_depth where queue = "boarding"; both = sum(depth); both / 2'] + $queue,
            '~^\[minor\] Previewed: \d~',
            ['Look first.'],
        ];
        yield 'absence' => [
            ['condition' => ['kind' => 'absence', 'severity' => 'minor']] + $queue,
            '~^\[minor\] Previewed on broker-~',
            ['no readings for 1 min'],
        ];
        yield 'a change' => [
            [
                'condition' => ['kind' => 'change', 'way' => 'rises', 'measure' => 'share', 'limits' => $limits(0.5), 'clear' => 0.2, 'agoSeconds' => 3600],
            ] + $queue,
            '~^\[minor\] Previewed on broker-~',
            ['Look first.'],
        ];
    }

    /**
     * @param array<string, mixed> $written
     * @param list<string>         $words
     */
    #[DataProvider('messages')]
    public function testAMessageIsSeenBeforeItIsSent(array $written, string $subject, array $words): void
    {
        $definition = $written + PlainRule::of(['name' => 'Previewed', 'limit' => 1])['definition'];
        [$status, $message, $text] = $this->client->send('POST', '/api/rules/message', ['definition' => $definition]);
        self::assertSame(200, $status, $text);
        self::assertMatchesRegularExpression($subject, $message['subject'] ?? '');
        foreach ($words as $one) {
            self::assertStringContainsString($one, $message['text'] ?? '');
        }
        self::assertStringNotContainsString('Never said.', $message['text'] ?? '');
    }

    /** @return iterable<string, array{array<string, mixed>, string, string}> what is written, the field at fault, and words of the reason */
    public static function faults(): iterable
    {
        $other = ['where' => 'tier = "1"', 'limits' => [['severity' => 'major', 'limit' => 2]], 'clear' => 1];
        yield 'more than all' => [['seenShare' => 1.5], 'seenShare', 'from 0 to 1'];
        yield 'a share in words' => [['seenShare' => 'most'], 'seenShare', 'must be a number'];
        yield 'no filter' => [['others' => [['where' => 'tier'] + $other]], 'others', 'After the label tier comes'];
        yield 'more than a filter' => [['others' => [['where' => 'tier = "1") + (x'] + $other]], 'others', ''];
        yield 'a clear limit past its limit' => [['others' => [['clear' => 3] + $other]], 'others', 'would clear and raise at once'];
        yield 'limits for some where there are none' => [
            ['condition' => ['kind' => 'absence', 'severity' => 'minor'], 'others' => [$other]],
            'others',
            'need a rule with limits',
        ];
        yield 'too many' => [['others' => array_fill(0, 21, $other)], 'others', 'a list of 0 to 20'];
        yield 'words of a severity that is none' => [['words' => ['grave' => 'x']], 'words', 'may be of critical, major, minor, warning only'];
        yield 'words without end' => [['words' => ['minor' => str_repeat('x', 301)]], 'words', 'at most 300 characters'];
        yield 'a name that nothing uses' => [['formula' => 'a = up; up'], 'formula', 'Nothing uses the name a'];
    }

    /** @param array<string, mixed> $written */
    #[DataProvider('faults')]
    public function testWhatCannotBeSoNamesItsFieldAndTheRemedy(array $written, string $field, string $reason): void
    {
        $definition = $written + PlainRule::of(['name' => 'Faulty', 'limit' => 10])['definition'];
        foreach (['/api/rules' => ['enabled' => false], '/api/rules/replay' => []] as $path => $beside) {
            [$status, $problem, $text] = $this->client->send('POST', $path, ['definition' => $definition] + $beside);
            self::assertSame(422, $status, $text);
            self::assertStringContainsString($field, (string) $problem['field'], $text);
            self::assertStringContainsString($reason, (string) $problem['title']);
        }
    }

    /** @return iterable<string, array{string, string|null, string}> as it is written, as it is kept (null: not), words of the reason */
    public static function holidays(): iterable
    {
        yield 'in any order, once each' => ["2026-12-25,2026-01-01\n2026-12-25; 2026-06-10", '2026-01-01, 2026-06-10, 2026-12-25', ''];
        yield 'none' => ['  ', '', ''];
        yield 'a day that there is not' => ['2026-02-30', null, '2026-02-30 is none'];
        yield 'words' => ['Christmas', null, 'such as 2026-12-25; Christmas is none'];
    }

    #[DataProvider('holidays')]
    public function testHolidaysAreDays(string $written, ?string $kept, string $reason): void
    {
        $admin = new Client('admin@saltmarsh.example');
        $before = $admin->send('GET', '/api/settings')[1]['holidays'];
        try {
            [$status, $answer, $text] = $admin->change('/api/settings', ['holidays' => $written]);
            self::assertSame($kept === null ? 422 : 200, $status, $text);
            self::assertSame($kept ?? 'holidays', $kept === null ? $answer['field'] : $answer['holidays']);
            self::assertStringContainsString($reason, $kept === null ? $answer['title'] : '');
        } finally {
            $admin->change('/api/settings', ['holidays' => $before]);
        }
    }
}

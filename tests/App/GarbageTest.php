<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Every field of every request, and every parameter of every address, gets what nobody would send: it is taken or
 * refused with a reason, never a failure of ours, and what was there before is still there.
 */
final class GarbageTest extends TestCase
{
    private const TOOK_TOO_LONG = 504;
    private const MARK = '"@garbage@"';
    private const CREDENTIAL = ['kind' => 'basic', 'name' => 'gauge', 'secret' => 'well kept'];
    /** @return list<string> as JSON, or not even that */
    private static function garbage(): array
    {
        return [
            'null',
            'true',
            '0',
            '-1',
            '1.5',
            '1e999',
            '-1e999',
            '9223372036854775807',
            '99999999999999999999',
            '1e-320',
            '""',
            '" "',
            '"0"',
            '"\u0000"',
            '"\ud83d"',
            '"\ud83e\udd80\u202e"',
            '"' . str_repeat('a', 70_000) . '"',
            '"../../etc/passwd"',
            '"\' OR 1=1 -- "',
            '"<img src=x onerror=alert(1)>"',
            '"{{7*7}}"',
            '[]',
            '[[[[]]]]',
            '{}',
            '{"a":{"b":1}}',
            '[null]',
            '[-1]',
            '[1e999]',
            '{"kind":1}',
            '{"kind":"header","name":[],"secret":{}}',
            str_repeat('[', 40) . str_repeat(']', 40),
            "\"\xFF\xFE\"",
            '"\u2028"',
            '{"":""}',
        ];
    }

    /** @return iterable<string, array{string, string, array<string, mixed>}> method, path, a body that is good */
    public static function requests(): iterable
    {
        $target = [
            'name' => 'garbage probe',
            'url' => 'http://127.0.0.1:9/metrics',
            'intervalSeconds' => 60,
            'timeoutSeconds' => 5,
            'labels' => ['site' => 'skarn'],
            'credential' => self::CREDENTIAL,
            'group' => null,
        ];
        yield 'add a target' => ['POST', '/api/targets', $target];
        yield 'change a target' => ['PUT', '/api/targets/{target}', $target + ['version' => 1]];
        yield 'test a target' => ['POST', '/api/targets/test', $target + ['id' => null]];
        yield 'pause a target' => ['POST', '/api/targets/{target}/pause', ['paused' => true]];
        yield 'change many' => [
            'POST',
            '/api/targets/many',
            ['action' => 'label', 'ids' => [999_999_999], 'label' => 'x', 'value' => 'y', 'group' => 1, 'interval' => 15],
        ];
        yield 'add a group' => [
            'POST',
            '/api/groups',
            [
                'name' => 'garbage group',
                'intervalSeconds' => 60,
                'timeoutSeconds' => 5,
                'labels' => ['site' => 'skarn'],
                'credential' => self::CREDENTIAL,
            ],
        ];
        yield 'change a group' => [
            'PUT',
            '/api/groups/{group}',
            [
                'name' => 'garbage kept',
                'intervalSeconds' => 60,
                'timeoutSeconds' => 5,
                'labels' => ['site' => 'skarn'],
                'credential' => self::CREDENTIAL,
                'version' => 1,
            ],
        ];
        yield 'add a rule' => ['POST', '/api/rules', self::rule()];
        yield 'change a rule' => ['PUT', '/api/rules/{rule}', self::rule() + ['version' => 1]];
        yield 'sweep a rule' => ['POST', '/api/rules/sweep', ['definition' => self::rule()['definition'], 'setting' => 'hold', 'hours' => 1]];
        yield 'ask what is usual' => ['POST', '/api/rules/advice', ['formula' => 'up']];
        yield 'switch many rules' => ['POST', '/api/rules/many', ['enabled' => true, 'ids' => [999_999]]];
        yield 'replay for long' => ['POST', '/api/rules/replay/long', ['definition' => self::rule()['definition'], 'hours' => 1]];
        yield 'preview a message' => ['POST', '/api/rules/message', ['definition' => self::rule()['definition']]];
        yield 'say what an alert was worth' => [
            'PUT',
            '/api/rules/{rule}/marks',
            ['labels' => ['a' => 'b'], 'raisedAt' => 1, 'clearedAt' => 2, 'worth' => 'noise'],
        ];
        yield 'keep a draft' => ['POST', '/api/rule-drafts', ['definition' => ['name' => 'x'], 'enabled' => true, 'rule' => 999_999]];
        yield 'ask for better settings' => ['POST', '/api/rules/{rule}/proposal', ['definition' => self::rule()['definition'], 'hours' => 1]];
        yield 'replay a rule' => ['POST', '/api/rules/replay', ['definition' => self::rule()['definition'], 'hours' => 1]];
        yield 'set what is kept' => ['PUT', '/api/retention', ['readings' => 0, 'fiveMinutes' => 0, 'hours' => 0, 'was' => []]];
        yield 'set limits' => ['PUT', '/api/limits', ['labels' => 0, 'seriesAScrape' => 0, 'newSeriesAnHour' => 0, 'lateMinutes' => -1, 'was' => []]];
        yield 'set settings' => [
            'PUT',
            '/api/settings',
            [
                'version' => '',
                'publicUrl' => '',
                'mailFrom' => '',
                'zone' => '',
                'idleHours' => 0,
                'sessionDays' => 0,
                'mailServer' => ['host' => ' '],
            ],
        ];
        yield 'own password' => ['POST', '/api/session/password', ['old' => 'not the one', 'new' => 'quite a long one']];
        yield 'add a person' => [
            'POST',
            '/api/people',
            ['name' => 'Garbage Person', 'email' => 'not an address', 'role' => 'viewer', 'password' => 'quite a long one'],
        ];
        yield 'change a person' => ['PUT', '/api/people/999999', ['role' => 'viewer', 'barred' => false, 'version' => 1]];
        yield 'seen' => ['POST', '/api/set-aside/seen', ['part' => 'keeper', 'subject' => 'nothing of the kind']];
        yield 'note' => ['POST', '/api/incidents/1/notes', ['note' => '']];
    }

    /** @param array<string, mixed> $good */
    #[DataProvider('requests')]
    public function testAnyFieldMayHoldAnything(string $method, string $path, array $good): void
    {
        $client = self::administrator();
        [$targets, $groups, $rules] = [self::ids($client, '/api/targets'), self::ids($client, '/api/groups'), self::ids($client, '/api/rules')];
        $made = [
            '{target}' => str_contains($path, '{target}')
                ? self::made($client, '/api/targets', ['name' => 'garbage target', 'url' => 'http://127.0.0.1:9/metrics', 'intervalSeconds' => 3_600])
                : 0,
            '{group}' => str_contains($path, '{group}') ? self::made($client, '/api/groups', ['name' => 'garbage kept']) : 0,
            '{rule}' => str_contains($path, '{rule}') ? self::made($client, '/api/rules', PlainRule::of(['name' => 'Garbage kept'])) : 0,
        ];
        $path = strtr($path, array_map(strval(...), $made));
        $kept = in_array($path, ['/api/retention', '/api/limits', '/api/settings'], true) ? $client->send('GET', $path)[2] : '';
        try {
            foreach ([...self::fields($good), null] as $field) {
                foreach (self::garbage() as $garbage) {
                    $body = $field === null ? $garbage : self::with($good, explode('.', $field), $garbage);
                    [$status, $answer, $text] = $client->sendJson($method, $path, $body);
                    $what = sprintf(
                        '%s %s with %s as %s: %d %s',
                        $method,
                        $path,
                        substr($garbage, 0, 60),
                        $field ?? 'all of it',
                        $status,
                        substr($text, 0, 300),
                    );
                    self::assertTrue($status < 500 || $status === self::TOOK_TOO_LONG, $what);
                    if ($status >= 400) {
                        self::assertNotSame('', trim((string) ($answer['title'] ?? '')), $what);
                    }
                    if ($status === 422) {
                        self::assertNotSame('', (string) ($answer['field'] ?? ''), $what);
                    }
                    self::assertDoesNotMatchRegularExpression('~Exception|SQLSTATE|\.php|Stack trace~', $status < 400 ? '' : $text, $what);
                }
            }
            if ($kept !== '') {
                self::assertSame($kept, $client->send('GET', $path)[2]);
            }
        } finally {
            foreach ([['/api/targets', $targets], ['/api/groups', $groups], ['/api/rules', $rules]] as [$list, $before]) {
                foreach (array_diff(self::ids($client, $list), $before) as $id) {
                    self::assertSame(204, $client->send('DELETE', "{$list}/{$id}", [])[0]);
                }
            }
        }
    }

    /**
     * @param array<array-key, mixed> $good
     *
     * @return list<string> the names of all fields, those of parts after those of what they are part of
     */
    private static function fields(array $good, string $of = ''): array
    {
        $fields = [];
        foreach ($good as $name => $value) {
            $fields[] = $of . $name;
            if (is_array($value)) {
                array_push($fields, ...self::fields($value, "{$of}{$name}."));
            }
        }

        return $fields;
    }

    /**
     * @param array<array-key, mixed> $good
     * @param non-empty-list<string>  $path
     */
    private static function with(array $good, array $path, string $garbage): string
    {
        $body = $good;
        $at = &$body;
        foreach ($path as $name) {
            $at = &$at[$name];
        }
        $at = trim(self::MARK, '"');

        return str_replace(self::MARK, $garbage, json_encode($body, JSON_THROW_ON_ERROR));
    }

    /** @return array<string, mixed> */
    private static function rule(): array
    {
        return PlainRule::of([
            'name' => 'Garbage rule',
            'blindSeverity' => 'minor',
            'runbook' => 'https://runbooks.example/x',
            'labels' => ['tier' => '1'],
            'owner' => 'piers',
            'stepSeconds' => 15,
            'condition' => [
                'kind' => 'threshold',
                'side' => 'outside',
                'limits' => [['severity' => 'minor', 'limit' => -9e5, 'to' => 9e5], ['severity' => 'critical', 'limit' => -1e6, 'to' => 1e6]],
                'clear' => 0,
                'clearTo' => 10,
                'need' => 3,
                'of' => 5,
            ],
        ]);
    }

    /** @return iterable<string, array{string, list<string>}> path and its parameters */
    public static function addresses(): iterable
    {
        yield 'targets' => ['/api/targets', ['spark', 'metric', 'q']];
        yield 'chart' => ['/api/chart', ['formula', 'from', 'to', 'points', 'lines']];
        yield 'usual' => ['/api/chart/usual', ['formula', 'from', 'to', 'points']];
        yield 'edited' => ['/api/formula/edited', ['formula', 'metric', 'label', 'value', 'per']];
        yield 'labels' => ['/api/metrics/labels', ['metric']];
        yield 'export' => ['/api/export', ['formula', 'from', 'to', 'step', 'as']];
        yield 'import' => ['/api/import', ['as', 'target']];
        yield 'cost' => ['/api/cost', ['target', 'by']];
        yield 'retention' => ['/api/retention', ['readings', 'fiveMinutes', 'hours']];
        yield 'watch' => ['/api/watch', ['since']];
        yield 'audit' => ['/api/audit', ['until', 'person']];
        yield 'one target' => ['/api/targets/99999999999999999999/page', ['x']];
        yield 'no such page' => ['/api/%2e%2e/%00', ['x']];
    }

    /** @param list<string> $parameters */
    #[DataProvider('addresses')]
    public function testAnyParameterMayHoldAnything(string $path, array $parameters): void
    {
        $client = self::administrator();
        $good = [
            'formula' => 'messaging_queue_depth',
            'from' => (string) ((int) (microtime(true) * 1000) - 3_600_000),
            'points' => '50',
            'as' => 'csv',
            'target' => '',
        ];
        $values = [
            '',
            '0',
            '-1',
            '1e999',
            '99999999999999999999',
            '-9223372036854775808',
            "\0",
            "\xFF\xFE",
            'null',
            '../../etc/passwd',
            "' OR 1=1 -- ",
            str_repeat('(', 3_000),
            str_repeat('(', 30_000),
            str_repeat('a.', 1_500),
            '🦀',
            'true',
        ];
        foreach ($parameters as $parameter) {
            foreach ([...$values, ['x'], ['a' => ['b' => '1']]] as $value) {
                $asked = http_build_query([$parameter => $value] + array_intersect_key($good, array_flip($parameters)));
                [$status, $answer, $text] = $client->sendJson(
                    $path === '/api/import' ? 'POST' : 'GET',
                    "{$path}?{$asked}",
                    $path === '/api/import' ? '{}' : null,
                );
                $what = sprintf('%s?%s: %d %s', $path, substr($asked, 0, 200), $status, substr($text, 0, 300));
                self::assertTrue($status < 500 || $status === self::TOOK_TOO_LONG, $what);
                if ($status >= 400) {
                    self::assertNotSame('', trim((string) ($answer['title'] ?? '')), $what);
                }
                self::assertDoesNotMatchRegularExpression('~Exception|SQLSTATE|\.php|Stack trace~', $status < 400 ? '' : $text, $what);
            }
        }
    }

    private static function administrator(): Client
    {
        static $client = null;

        return $client ??= new Client('admin@saltmarsh.example');
    }

    /** @return list<int> */
    private static function ids(Client $client, string $list): array
    {
        return array_map(intval(...), array_column($client->send('GET', $list)[1], 'id'));
    }

    /** @param array<string, mixed> $body */
    private static function made(Client $client, string $list, array $body): int
    {
        [$status, $made, $text] = $client->send('POST', $list, $body);
        self::assertSame(201, $status, $text);

        return (int) $made['id'];
    }
}

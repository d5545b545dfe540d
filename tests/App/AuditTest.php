<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\AsAWhole;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;
use Symfony\Component\Routing\RouterInterface;

/** Each change that a person makes is kept together with its entry in the audit, and none is left out. */
final class AuditTest extends TestCase
{
    private const CHANGES_NOTHING = [
        'POST /api/checks/try',
        'POST /api/checks/partners',
        'POST /api/recipes/{name}/try',
        'POST /api/findings/look',
        'POST /api/checks/{id}/run',
        'POST /api/targets/test',
        'POST /api/rules/replay',
        'POST /api/rules/sweep',
        'POST /api/rules/advice',
        'POST /api/rules/replay/long',
        'POST /api/rules/message',
        'POST /api/rules/{id}/proposal',
        'POST /api/session',
        'POST /api/session/end',
        'POST /api/settings/test-mail',
        'POST /api/channels/{id}/test',
        'POST /api/plan/try',
        'POST /api/mutes/matched',
        'POST /api/templates/preview',
        'POST /api/rules/{id}/heard',
        'POST /api/plan/draft/past',
        'POST /api/rosters/{id}/what-if',
    ];
    /** Takes readings in by the piece, each of them a whole, and may be done again. */
    private const BY_THE_PIECE = [
        'POST /api/import',
        // A wrong code counts, whatever is answered; a calendar is asked of others meanwhile.
        'POST /api/session/contacts/{id}/verify',
        'POST /api/absence-calendars',
        'POST /api/absence-calendars/{id}/read',
        // That it was begun is kept before anybody is asked to do it.
        'POST /api/actions/{id}/run',
        // A browser that its owner let go of is forgotten meanwhile.
        'POST /api/session/browsers/test',
    ];

    public function testWhateverChangesSomethingChangesItAsAWhole(): void
    {
        $router = Instance::container()->get('router');
        self::assertInstanceOf(RouterInterface::class, $router);
        $missing = [];
        foreach ($router->getRouteCollection() as $route) {
            foreach (array_diff($route->getMethods(), ['GET']) as $method) {
                [$class, $function] = explode('::', (string) $route->getDefault('_controller')) + [1 => '__invoke'];
                $name = "{$method} {$route->getPath()}";
                if (
                    !in_array($name, [...self::CHANGES_NOTHING, ...self::BY_THE_PIECE], true)
                    && (!method_exists($class, $function) || (new \ReflectionMethod($class, $function))->getAttributes(AsAWhole::class) === [])
                ) {
                    $missing[] = $name;
                }
            }
        }
        self::assertSame([], $missing);
    }

    /** The entry of a change tells what was there before, as the entry before it left it, and what is there now, as anybody reads it. */
    public function testTheEntriesOfAThingTellItsWholeLife(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        $name = 'audited ' . bin2hex(random_bytes(4));
        $lives = [
            '/api/rules' => [
                'rule',
                [PlainRule::of(['name' => $name]), ['definition' => PlainRule::of(['name' => $name, 'limit' => 77])['definition']], ['enabled' => true]],
            ],
            '/api/groups' => [
                'group',
                [['name' => $name, 'intervalSeconds' => 60, 'labels' => ['site' => 'skarn']], ['intervalSeconds' => 30], ['labels' => []]],
            ],
            '/api/targets' => [
                'target',
                [
                    ['name' => $name, 'url' => 'http://127.0.0.1:9/metrics', 'intervalSeconds' => 3_600, 'labels' => ['site' => 'skarn']],
                    ['timeoutSeconds' => 3],
                    ['url' => 'http://127.0.0.1:9/other'],
                ],
            ],
        ];
        foreach ($lives as $path => [$kind, $changes]) {
            $sent = [];
            $thing = [];
            $seen = [];
            foreach ($changes as $change) {
                $sent = $change + $sent;
                [$status, $thing, $text] =
                    $thing === []
                        ? $admin->send('POST', $path, $sent)
                        : $admin->send('PUT', "{$path}/{$thing['id']}", $sent + array_intersect_key($thing, ['version' => 1]));
                self::assertContains($status, [200, 201], $text);
                $seen[] = $thing;
            }
            self::assertSame(204, $admin->send('DELETE', "{$path}/{$thing['id']}", [])[0]);
            $entries = array_reverse($this->entries($admin, "{$kind} {$name}"));
            self::assertSame(['added', 'changed', 'changed', 'removed'], array_column($entries, 'action'), $kind);
            self::assertSame(
                [null, ...array_column(array_slice($entries, 0, 3), 'after')],
                array_column($entries, 'before'),
                "{$kind}: each begins where the one before it ended",
            );
            foreach ($seen as $i => $state) {
                self::assertEquals(
                    array_intersect_key($state, $entries[$i]['after']),
                    array_intersect_key($entries[$i]['after'], $state),
                    "{$kind}: what is there now",
                );
                self::assertSame('Anselm Okoye', $entries[$i]['person']);
            }
        }
    }

    /** Where the entry cannot be kept, the change is not made. */
    public function testNoChangeWithoutItsEntry(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        $database = Instance::connect();
        $name = 'never ' . bin2hex(random_bytes(4));
        $kept = static fn(): array => [
            $admin->send('GET', '/api/limits')[1],
            array_column($admin->send('GET', '/api/retention')[1]['tiers'] ?? [], 'days'),
            $admin->send('GET', '/api/settings')[1],
        ];
        $before = $kept();
        $database->executeStatement('RENAME TABLE audit_entry TO audit_entry_away');
        try {
            foreach (
                [
                    ['POST', '/api/rules', PlainRule::of(['name' => $name])],
                    ['POST', '/api/groups', ['name' => $name]],
                    ['POST', '/api/targets', ['name' => $name, 'url' => 'http://127.0.0.1:9/metrics']],
                    ['PUT', '/api/limits', ['labels' => 33]],
                    ['PUT', '/api/retention', ['readings' => 3]],
                    ['PUT', '/api/settings', ['idleHours' => 3]],
                ] as [$method, $path, $body]
            ) {
                self::assertSame(500, ($method === 'PUT' ? $admin->change($path, $body) : $admin->send($method, $path, $body))[0], $path);
            }
        } finally {
            $database->executeStatement('RENAME TABLE audit_entry_away TO audit_entry');
        }
        foreach (['rule', 'target_group', 'target'] as $table) {
            self::assertSame(0, (int) $database->fetchOne("SELECT COUNT(*) FROM {$table} WHERE name = ?", [$name]), $table);
        }
        self::assertSame($before, $kept());
    }

    /** Twelve who take one incident at the same moment: one has it, the others hear that it is taken. */
    public function testOneOfManyTakesAnIncident(): void
    {
        $database = Instance::connect();
        $database->insert('incident', [
            'service' => 'audit',
            'title' => 'Taken by one',
            'severity' => 'minor',
            'status' => 'open',
            'opened_at' => (int) (microtime(true) * 1000),
            'replayed' => 1,
        ]);
        $id = (int) $database->lastInsertId();
        $cookies = array_map(
            static fn(int $i): string => (new Client($i % 2 === 0 ? 'ines@saltmarsh.example' : 'admin@saltmarsh.example'))->cookie(),
            range(1, 4),
        );
        $http = HttpClient::create(['base_uri' => Instance::web(), 'timeout' => 30]);
        foreach (['acknowledge' => 'acknowledged', 'hand-back' => 'took acknowledgement back', 'resolve' => 'resolved'] as $act => $action) {
            $answers = array_map(
                static fn(int $i) => $http->request('POST', "/api/incidents/{$id}/{$act}", [
                    'headers' => ['Cookie' => $cookies[$i % 4], 'Content-Type' => 'application/json'],
                    'body' => '{}',
                ]),
                range(1, 12),
            );
            $statuses = array_count_values(array_map(static fn($answer): int => $answer->getStatusCode(), $answers));
            ksort($statuses);
            self::assertSame([200 => 1, 409 => 11], $statuses, $act);
            self::assertSame(
                1,
                (int) $database->fetchOne('SELECT COUNT(*) FROM audit_entry WHERE subject = ? AND action = ?', ["incident {$id}", $action]),
            );
        }
        self::assertSame(3, (int) $database->fetchOne("SELECT COUNT(*) FROM trail WHERE incident_id = ? AND kind = 'person'", [$id]));
        $database->executeStatement('DELETE FROM trail WHERE incident_id = ?', [$id]);
        $database->delete('incident', ['id' => $id]);
    }

    /** @return list<array<string, mixed>> newest first */
    private function entries(Client $client, string $subject): array
    {
        return array_values(array_filter($client->send('GET', '/api/audit')[1], static fn(array $entry): bool => $entry['subject'] === $subject));
    }
}

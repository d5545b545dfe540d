<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Demo\DemoPeople;
use PHPUnit\Framework\TestCase;

/** What is set up of who hears: a draft, part by part, what two people make of it, put into service, and the way back. */
final class PlanTest extends TestCase
{
    use MadeUpAlerts {
        tearDown as letGo;
    }

    /** @var \Closure(): void */
    private \Closure $letOthers;
    /** The revision that was in service. */
    private int $before = 0;

    protected function assertPreConditions(): void
    {
        $this->letOthers = Instance::alone('plan');
        $this->before = $this->plan()['inService']['number'];
        $this->engineer->send('DELETE', '/api/plan/draft', []);
    }

    protected function tearDown(): void
    {
        $this->wayBack();
        ($this->letOthers)();
        $this->letGo();
    }

    public function testADraftIsMadeTriedPutIntoServiceAndTakenBack(): void
    {
        $before = $this->plan()['inService'];
        $this->add('teams', ['name' => 'night desk', 'people' => ['tomasz@saltmarsh.example', 'oyelaran@saltmarsh.example']]);
        $this->add('ladders', [
            'name' => 'night',
            'rungs' => [
                ['who' => [['listener' => 'team', 'name' => 'night desk']], 'by' => ['e-mail'], 'afterSeconds' => 600],
                ['who' => [['listener' => 'person', 'name' => 'ines@saltmarsh.example']], 'by' => [], 'afterSeconds' => 0],
            ],
        ]);
        $page = $this->add('paths', [
            'name' => 'made up',
            'ladder' => 'night',
            'for' => "service = \"{$this->service}\" and severity in (\"critical\", \"major\")",
            'per' => ['service'],
            'gatherSeconds' => 0,
        ]);
        self::assertSame($before['number'], $page['inService']['number'], 'nothing of it is in service');
        self::assertSame(['path added', 'ladder added', 'team added'], self::changes($page['draft']['changes']));
        self::assertSame(['made up', 'everything else'], array_slice(self::names($page['draft']['plan']['paths']), -2), 'before everything else');
        $reached = array_column($page['draft']['plan']['paths'][count($page['draft']['plan']['paths']) - 2]['rungs'], 'people');
        self::assertSame([['Tomasz Reyes', 'Oyelaran Bright'], ['Ines Duarte']], array_map($this->sorted(...), $reached));

        $alert = ['labels' => ['service' => $this->service], 'severity' => 'major'];
        self::assertSame('everything else', $this->engineer->send('POST', '/api/plan/try', $alert)[1]['path']);
        [, $tried, $text] = $this->engineer->send('POST', '/api/plan/try', $alert + ['draft' => true]);
        self::assertSame('made up', $tried['path'] ?? $text);
        $told = array_values(array_filter(array_column($tried['steps'], 'words'), static fn(string $words): bool => str_contains($words, ' to ')));
        sort($told);
        self::assertSame(['rung 1: e-mail to Oyelaran Bright', 'rung 1: e-mail to Tomasz Reyes', 'rung 2: e-mail to Ines Duarte'], $told);
        [$status, $past, $text] = $this->engineer->send('POST', '/api/plan/draft/past', []);
        self::assertSame(200, $status, $text);
        self::assertEquals($past['inService'], $past['draft'], 'nothing of the past is of this service');

        [$status, $page, $text] = $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version'], 'reason' => 'Nights have a desk']);
        self::assertSame([200, null, $before['number'] + 1], [$status, $page['draft'] ?? null, $page['inService']['number'] ?? $text]);
        [$newest] = $this->engineer->send('GET', '/api/plan/revisions')[1];
        self::assertSame(['Nights have a desk', 'Ines Duarte'], [$newest['reason'], $newest['author']]);
        self::assertSame(['path added', 'ladder added', 'team added'], self::changes($newest['changes']));

        $this->happens($this->rule('Made-up queue', 'major'), 'a', 'building', 'raised', 'major', 500);
        $trail = fn(): string => implode("\n", array_column($this->incident()['trail'] ?? [], 'words'));
        Instance::eventually(static fn(): bool => substr_count($trail(), 'taken over there') === 2, 40, 'both of the desk are told');
        $row = count($page['inService']['paths']) - 1;
        self::assertStringContainsString("made up answers (row {$row} of revision {$page['inService']['number']})", $trail());
        self::assertMatchesRegularExpression('~rung 1: e-mail to (Tomasz Reyes|Oyelaran Bright), taken~', $trail());
        self::assertSame(1, array_column($this->plan()['inService']['paths'], 'incidents', 'gathers')['for 0 ms'] ?? 1);
        $this->assertToldOf('tomasz@saltmarsh.example', 'rung 1');

        $back = $this->engineer->send('POST', '/api/plan/draft', ['revision' => $before['number']])[1];
        self::assertSame(['path removed', 'ladder removed', 'team removed'], self::changes($back['draft']['changes']));
    }

    /** Asked of a person: what they were told, the newest first, a page at a time. */
    private function assertToldOf(string $email, string $of): void
    {
        $person = array_column($this->engineer->send('GET', '/api/people')[1], 'id', 'email')[$email];
        $page = $this->engineer->send('GET', "/api/messages?person={$person}&channel=e-mail")[1];
        [$newest] = $page['messages'];
        $incident = $this->incident();
        self::assertSame(
            [$incident['id'] ?? null, $incident['title'] ?? null, $of, 'sent', 'e-mail'],
            [$newest['incident'], $newest['title'], $newest['of'], $newest['status'], $newest['channel']],
        );
        self::assertSame(['Tomasz Reyes'], array_values(array_unique(array_column($page['messages'], 'person'))), 'of nobody else');
        $older = $this->engineer->send('GET', "/api/messages?person={$person}&before={$newest['id']}")[1];
        self::assertNotContains($newest['id'], array_column($older['messages'], 'id'));
        self::assertSame([], $this->engineer->send('GET', "/api/messages?person={$person}&channel=pigeon")[1]['messages']);
        foreach (['person=ines' => 'person must be a whole number', 'channel[]=mail' => 'channel must be given once'] as $asked => $words) {
            [$status, $problem] = $this->engineer->send('GET', "/api/messages?{$asked}");
            self::assertSame([400, $words], [$status, $problem['title']]);
        }
    }

    /** Where a rung leaves it to her, she is told as she wishes: less than critical not in her quiet hours. */
    public function testQuietHoursAreKeptAndCriticalPasses(): void
    {
        $wishes = $this->engineer->send('GET', '/api/session/wishes')[1]['definition'];
        $always = ['stretches' => [['days' => [1, 2, 3, 4, 5, 6, 7], 'from' => '00:00', 'to' => '24:00']], 'zone' => 'Europe/Lisbon', 'off' => []];
        $body = ['definition' => ['quiet' => $always, 'critical' => ['harbour-board']] + $wishes, 'was' => $wishes];
        [$status, $kept, $text] = $this->engineer->send('PUT', '/api/session/wishes', $body);
        self::assertSame([200, ['harbour-board']], [$status, $kept['definition']['critical'] ?? $text]);
        try {
            self::assertSame(409, $this->engineer->send('PUT', '/api/session/wishes', $body)[0], 'from how it was read');
            $wrong = ['definition' => ['minor' => ['pigeon']] + $wishes, 'was' => $kept['definition']];
            [$status, $problem] = $this->engineer->send('PUT', '/api/session/wishes', $wrong);
            self::assertSame([422, 'minor'], [$status, $problem['field'] ?? null]);
            $this->add('ladders', ['name' => 'ines', 'rungs' => [['who' => [['listener' => 'person', 'name' => 'ines@saltmarsh.example']]]]]);
            $page = $this->add('paths', ['per' => ['queue'], 'ladder' => 'ines', 'gatherSeconds' => 0] + $this->part('quiet'));
            self::assertSame(200, $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version']])[0]);
            $this->happens($this->rule('Quiet queue', 'minor'), 'hush', 'building', 'raised', 'minor', 500);
            $this->happens($this->rule('Loud queue', 'critical'), 'loud', 'building', 'raised', 'critical', 500);
            $trail = fn(string $group): string => implode("\n", array_column($this->database->fetchAllAssociative(
                'SELECT words FROM trail t JOIN incident i ON i.id = t.incident_id WHERE i.service = ? AND i.path = ? ORDER BY t.id',
                [$group, 'quiet'],
            ), 'words'));
            $says = static fn(string $group, string $words): bool => str_contains($trail($group), $words);
            Instance::eventually(static fn(): bool => $says('loud', 'rung 1: harbour-board to Ines Duarte, taken'), 40, 'critical passes, her way');
            Instance::eventually(static fn(): bool => $says('hush', 'somebody whose quiet hours these are'), 40, 'minor waits, and the trail says so');
            self::assertStringNotContainsString('taken over there', $trail('hush'));
        } finally {
            $this->database->executeStatement("UPDATE person SET wishes = NULL WHERE email = 'ines@saltmarsh.example'");
            foreach (['hush', 'loud'] as $group) {
                foreach (['incident_alert', 'trail', 'delivery'] as $table) {
                    $this->database->executeStatement(
                        "DELETE x FROM {$table} x JOIN incident i ON i.id = x.incident_id WHERE i.service = ? AND i.path = 'quiet'",
                        [$group],
                    );
                }
                $this->database->executeStatement("DELETE FROM incident WHERE service = ? AND path = 'quiet'", [$group]);
            }
        }
    }

    /** What can wait is withheld once there were so many in the hour, is told in one message, and the trail of each says so. */
    public function testWhatIsTooMuchInAnHourIsToldTogether(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        $queues = ['q1', 'q2'];
        // A webhook of its own, so that nothing else of the instance counts.
        $secret = DemoPeople::WEBHOOK_SECRET;
        $url = 'http://127.0.0.1:' . Instance::port(7) . '/events';
        $room = ['name' => "room-{$this->service}", 'url' => $url, 'secret' => $secret, 'standsIn' => false];
        $hook = $admin->send('POST', '/api/channels', $room)[1];
        $renamed = static fn(): array => $admin->send('PUT', "/api/channels/{$hook['id']}", ['name' => "{$hook['name']}-2", 'version' => 1] + $room);
        try {
            $this->add('copies', ['name' => 'room', 'for' => "service = \"{$this->service}\"", 'by' => [$hook['name']], 'tell' => ['opened', 'resolved']]);
            $page = $this->add('paths', ['per' => ['queue'], 'gatherSeconds' => 0] + $this->part('many'));
            self::assertSame(200, $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version']])[0]);
            [$status, $problem] = $renamed();
            self::assertSame(409, $status);
            self::assertStringContainsString('is used by copy room; its name stays', $problem['title'], 'what names it would tell nobody');
            $rule = $this->rule('Made-up queue', 'minor');
            $copies = fn(string $what): array => $this->database->fetchFirstColumn(
                "SELECT {$what} FROM delivery WHERE channel = ? ORDER BY id",
                [$hook['name']],
            );
            $now = (int) (microtime(true) * 1000);
            for ($i = 0; $i < 20; ++$i) {
                $this->database->insert('delivery', [
                    'incident_id' => 999_999_999, 'kind' => 'copy opened', 'round' => $i, 'person_id' => 0, 'channel' => $hook['name'], 'due_at' => $now,
                    'status' => 'sent', 'attempts' => 1, 'next_at' => $now, 'sent_at' => $now - $i, 'answer' => '', 'message_key' => "{$hook['name']} {$i}",
                ]);
            }
            foreach ($queues as $queue) {
                $this->happens($rule, $queue, 'building', 'raised', 'minor', 500);
            }
            $counted = static fn(): array => array_count_values($copies('status')) + ['withheld' => count(array_filter($copies('withheld_at')))];
            Instance::eventually(static fn(): bool => $counted() === ['sent' => 20, 'planned' => 2, 'withheld' => 2], 40, 'what is past 20 is withheld');
            $trail = $this->database->fetchFirstColumn("SELECT words FROM trail WHERE words LIKE 'copy: {$hook['name']} %'");
            self::assertCount(2, preg_grep('~is withheld: 20 were sent within an hour; it is told with others in \d+ min~', $trail) ?: []);
            // The hour is over.
            $this->database->executeStatement('UPDATE delivery SET next_at = 0 WHERE withheld_at IS NOT NULL AND channel = ?', [$hook['name']]);
            Instance::eventually(static fn(): bool => $counted()['sent'] === 22, 40, 'they are told');
            $together = array_values(array_filter(
                Instance::events(),
                static fn(array $one): bool => $one['event']['type'] === 'olivine.incidents.together' && count($one['event']['data']['incidents']) === 2,
            ));
            self::assertNotSame([], $together, 'in one message');
        } finally {
            $this->database->delete('delivery', ['incident_id' => 999_999_999]);
            foreach ($queues as $group) {
                foreach (['incident_alert', 'trail', 'delivery'] as $table) {
                    $this->database->executeStatement(
                        "DELETE x FROM {$table} x JOIN incident i ON i.id = x.incident_id WHERE i.service = ? AND i.path = 'many'",
                        [$group],
                    );
                }
                $this->database->executeStatement("DELETE FROM incident WHERE service = ? AND path = 'many'", [$group]);
            }
            $this->wayBack();
            $status = $renamed()[0];
            $admin->send('DELETE', "/api/channels/{$hook['id']}", []);
        }
        self::assertSame(200, $status, 'where nothing names it, it is called otherwise');
    }

    /** Six critical ones at once, three a minute: three are told, the others in one message that names the first and the gravest. */
    public function testAStormIsOneMessage(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        $url = 'http://127.0.0.1:' . Instance::port(7) . '/events';
        $room = ['name' => "storm-{$this->service}", 'url' => $url, 'secret' => DemoPeople::WEBHOOK_SECRET, 'standsIn' => false];
        $hook = $admin->send('POST', '/api/channels', $room)[1];
        $queues = array_map(fn(int $i): string => "{$this->service}-{$i}", range(1, 6));
        $perMinute = static function (int $most) use ($admin): void {
            $settings = $admin->send('GET', '/api/settings')[1];
            self::assertSame(200, $admin->send('PUT', '/api/settings', ['mostAMinute' => $most, 'mailServer' => null] + $settings)[0]);
        };
        try {
            $perMinute(3);
            // Each part knows its settings for a second.
            sleep(2);
            $ines = ['listener' => 'person', 'name' => 'ines@saltmarsh.example'];
            $this->add('ladders', ['name' => 'storm', 'rungs' => [['who' => [$ines], 'by' => [$hook['name']]]]]);
            $page = $this->add('paths', ['per' => ['queue'], 'gatherSeconds' => 0, 'ladder' => 'storm'] + $this->part('storm'));
            self::assertSame(200, $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version']])[0]);
            [$major, $critical] = [$this->rule('Made-up storm', 'major'), $this->rule('Made-up eye', 'critical')];
            foreach ($queues as $i => $queue) {
                $this->happens($i === 4 ? $critical : $major, $queue, 'building', 'raised', $i === 4 ? 'critical' : 'major', 500);
            }
            $sent = fn(): array => $this->database->fetchFirstColumn(
                "SELECT sent_at FROM delivery WHERE channel = ? AND status = 'sent' ORDER BY sent_at, id",
                [$hook['name']],
            );
            Instance::eventually(static fn(): bool => count($sent()) === 3, 40, 'three are told at once');
            self::assertSame(3, (int) $this->database->fetchOne(
                "SELECT COUNT(*) FROM trail WHERE words LIKE ? AND words LIKE '%is withheld: a storm, 3 were sent within a minute%'",
                ["rung 1: {$hook['name']} to Ines Duarte%"],
            ));
            Instance::eventually(static fn(): bool => count($sent()) === 6, 90, 'the others follow');
            self::assertCount(4, array_unique($sent()), 'in one message');
            self::assertLessThan(45_000, $sent()[5] - $sent()[2], 'soon');
        } finally {
            $perMinute(0);
            foreach (['incident_alert', 'trail', 'delivery'] as $table) {
                $this->database->executeStatement("DELETE x FROM {$table} x JOIN incident i ON i.id = x.incident_id WHERE i.path = 'storm'");
            }
            $this->database->executeStatement("DELETE FROM incident WHERE path = 'storm'");
            $this->wayBack();
            $admin->send('DELETE', "/api/channels/{$hook['id']}", []);
        }
    }

    public function testTwoPeopleOnOnePathAndOnTwo(): void
    {
        $other = new Client('oyelaran@saltmarsh.example');
        $first = $this->part('first');
        $this->add('paths', $first);
        $this->add('paths', $this->part('second'), $other);
        $as = static fn(string $for): array => ['definition' => ['for' => $for] + $first, 'was' => $first];
        [$status] = $this->engineer->send('PUT', '/api/plan/draft/paths/first', $as('service = "a"'));
        self::assertSame(200, $status);
        [$status, $problem] = $other->send('PUT', '/api/plan/draft/paths/first', $as('service = "b"'));
        self::assertSame([409, 'service = "a"'], [$status, $problem['now']['for'] ?? null], 'the later one sees what the former one made of it');
        $second = $this->part('second');
        [$status] = $other->send('PUT', '/api/plan/draft/paths/second', ['definition' => ['for' => 'site = "skarn"'] + $second, 'was' => $second]);
        self::assertSame(200, $status, 'another path is no conflict');
        [$status, , $text] = $this->engineer->send('PUT', '/api/plan/draft/paths/gone', ['definition' => $this->part('gone'), 'was' => $first]);
        self::assertSame(409, $status, $text);

        // Who read the draft before the last change does not put that into service unseen.
        $version = $this->plan()['draft']['version'];
        $this->engineer->send('PUT', '/api/plan/draft/order', ['paths' => [...$this->others(), 'second', 'first']]);
        [$status, $problem] = $other->send('PUT', '/api/plan', ['version' => $version]);
        self::assertSame([409, true], [$status, str_contains($problem['title'], 'changed the draft since you read it')]);
        [$status, $page] = $other->send('PUT', '/api/plan', ['version' => $this->plan()['draft']['version']]);
        self::assertSame([200, ['second', 'first', 'everything else']], [$status, array_slice(self::names($page['inService']['paths']), -3)]);
    }

    public function testWhatCannotBeSoIsToldWithItsFieldAndItsRemedy(): void
    {
        $path = $this->part('wrong');
        $ladder = static fn(array $rung): array => ['name' => 'wrong', 'rungs' => [$rung + ['who' => [['listener' => 'on call']]]]];
        $office = ['stretches' => [['days' => [1], 'from' => '08:00', 'to' => '18:00']], 'zone' => 'Europe/Lisbon'];
        $hours = static fn(array $some): array => ['hours' => $some + $office];
        foreach (
            [
                ['paths', ['ladder' => 'nowhere'] + $path, 'ladder', 'path wrong: there is no ladder nowhere'],
                ['paths', ['for' => 'service ='] + $path, 'for', 'path wrong: for: '],
                ['paths', ['for' => 'mean(x, 5m)'] + $path, 'for', 'path wrong: for: '],
                ['paths', ['gatherUntil' => ['9:00']] + $path, 'gatherUntil', 'gatherUntil must be a time of the day such as 08:00'],
                ['paths', $hours(['zone' => 'Moon/Sea']) + $path, 'zone', 'there is no Moon/Sea'],
                ['paths', $hours(['off' => ['2026-02-30']]) + $path, 'off', 'this is 2026-02-30'],
                ['paths', $hours(['stretches' => [['days' => [8], 'from' => '08:00', 'to' => '18:00']]]) + $path, 'days', '1 (Monday) to 7 (Sunday)'],
                ['paths', $hours(['stretches' => [['days' => [1], 'from' => '24:00', 'to' => '18:00']]]) + $path, 'from', 'this is 24:00'],
                ['paths', ['name' => 'everything else'] + $path, 'name', 'There is a path named everything else already'],
                ['ladders', $ladder(['who' => [['listener' => 'person', 'name' => 'ine@saltmarsh.example']]]), 'who', 'did you mean ines@saltmarsh.example?'],
                ['ladders', $ladder(['who' => [['listener' => 'team', 'name' => 'nobodys']]]), 'who', 'ladder wrong: there is no team nobodys'],
                ['ladders', $ladder(['who' => [['listener' => 'person']]]), 'who', 'which person?'],
                ['ladders', $ladder(['by' => ['pigeon']]), 'by', 'there is no channel pigeon'],
                ['ladders', ['times' => 2] + $ladder(['afterSeconds' => 0]), 'times', 'how long until the ladder begins again'],
                ['ladders', ['name' => 'wrong', 'rungs' => []], 'rungs', 'rungs must be a list of 1 to 20'],
                ['copies', ['name' => 'wrong'], 'who', 'say who is told, or by which channel'],
                ['copies', ['name' => 'wrong', 'by' => ['e-mail']], 'by', 'mail goes to somebody; say who'],
                ['copies', ['name' => 'wrong', 'by' => ['harbour-board'], 'tell' => ['all']], 'tell', 'tell must be of opened, worse, resolved'],
                ['teams', ['name' => 'wrong', 'people' => ['nobody@a']], 'people', 'there is no person with the address nobody@a'],
                ['teams', ['name' => '', 'people' => []], 'name', 'name is missing'],
            ] as [$kind, $definition, $field, $words]
        ) {
            [$status, $problem, $text] = $this->engineer->send('POST', "/api/plan/draft/{$kind}", ['definition' => $definition]);
            self::assertSame([422, $field], [$status, $problem['field'] ?? null], $text);
            self::assertStringContainsString($words, $problem['title']);
        }
        self::assertNull($this->plan()['draft'], 'nothing of it is kept');

        [$last] = array_slice($this->plan()['inService']['paths'], -1);
        foreach ([['for' => 'site = "skarn"'], $hours([])] as $narrowed) {
            $body = ['definition' => $narrowed + $last['definition'], 'was' => $last['definition']];
            [$status, $problem] = $this->engineer->send('PUT', '/api/plan/draft/paths/everything%20else', $body);
            self::assertSame([422, true], [$status, str_contains($problem['title'], 'nothing may fall through')]);
        }
        $else = '/api/plan/draft/paths/everything%20else';
        self::assertSame(409, $this->engineer->send('DELETE', $else, [])[0]);
        [$status, $problem] = $this->engineer->send('DELETE', '/api/plan/draft/ladders/' . rawurlencode($last['definition']['ladder']), []);
        self::assertSame(409, $status);
        self::assertStringContainsString('path everything else; take it out there first', $problem['title']);

        $viewer = new Client('viewer@saltmarsh.example');
        self::assertSame(403, $viewer->send('POST', '/api/plan/draft/paths', ['definition' => $path])[0]);
        self::assertSame(403, $viewer->send('PUT', '/api/plan', ['version' => 1])[0]);
    }

    /**
     * @param array<string, mixed> $definition
     *
     * @return array<array-key, mixed> the page
     */
    private function add(string $kind, array $definition, ?Client $by = null): array
    {
        [$status, $page, $text] = ($by ?? $this->engineer)->send('POST', "/api/plan/draft/{$kind}", ['definition' => $definition]);
        self::assertSame(201, $status, $text);

        return $page;
    }

    /** @return array<string, mixed> a path that is of nothing that is there */
    private function part(string $name): array
    {
        return [
            'name' => $name, 'ladder' => 'on call', 'for' => "service = \"{$this->service}\"", 'hours' => null, 'per' => ['service'],
            'gatherSeconds' => 10, 'gatherUntil' => [], 'reopensSeconds' => 600,
        ];
    }

    /** @return list<string> paths that stood there before */
    private function others(): array
    {
        return array_values(array_diff(self::names($this->plan()['draft']['plan']['paths']), ['first', 'second', 'everything else']));
    }

    private function wayBack(): void
    {
        $this->engineer->send('DELETE', '/api/plan/draft', []);
        if ($this->plan()['inService']['number'] !== $this->before) {
            $page = $this->engineer->send('POST', '/api/plan/draft', ['revision' => $this->before])[1];
            $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version'], 'reason' => 'as it was']);
        }
    }

    /** @return array<array-key, mixed> */
    private function plan(): array
    {
        return $this->engineer->send('GET', '/api/plan')[1];
    }

    /** @return array<array-key, mixed> */
    private function incident(): array
    {
        $id = $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);

        return $id === false ? [] : $this->engineer->send('GET', "/api/incidents/{$id}")[1];
    }

    /**
     * @param list<array{kind: string, what: string}> $changes
     *
     * @return list<string>
     */
    private static function changes(array $changes): array
    {
        return array_map(static fn(array $one): string => "{$one['kind']} {$one['what']}", $changes);
    }

    /**
     * @param list<array{definition: array{name: string}}> $parts
     *
     * @return list<string>
     */
    private static function names(array $parts): array
    {
        return array_map(static fn(array $part): string => $part['definition']['name'], $parts);
    }

    /**
     * @param list<string> $names
     *
     * @return list<string>
     */
    private function sorted(array $names): array
    {
        rsort($names);

        return $names;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\BoundedStream;
use Olivine\App\Demo\DemoPeople;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Mailer\Exception\TransportException;
use Symfony\Component\Process\Process;

/** How messages leave: by mail, and where that fails by a webhook, each from a queue of its own. */
final class ChannelsTest extends TestCase
{
    use MadeUpAlerts {
        tearDown as letGo;
    }

    private Client $admin;

    protected function assertPreConditions(): void
    {
        $this->admin = new Client('admin@saltmarsh.example');
    }

    protected function tearDown(): void
    {
        self::sink('takes');
        foreach ($this->admin->send('GET', '/api/channels/set-up')[1] as $webhook) {
            if (in_array($webhook['name'], ['pier-hook', 'other-hook'], true)) {
                $this->admin->send('DELETE', "/api/channels/{$webhook['id']}", []);
            }
        }
        $this->letGo();
    }

    /** A mail server that is away: the webhook is told within seconds, the trail says why, and no mail comes after it. */
    public function testWhatMailDoesNotTakeGoesByTheWebhook(): void
    {
        $known = array_column(Instance::events(), 'id');
        $mails = count(Instance::letters());
        self::mailGoesAwayOrComesBack();
        try {
            $began = microtime(true);
            $this->raise('Boarding stands still', 'critical');
            Instance::eventually(fn(): bool => $this->statuses() === ['e-mail' => 'dropped', DemoPeople::WEBHOOK => 'sent'], 40, 'it went the other way');
            self::assertLessThan(60, microtime(true) - $began, 'within a minute');
            $waiting = $this->channel('e-mail');
            self::assertSame(0, $waiting['waiting'], 'it waits no more for what was told already');
        } finally {
            self::mailGoesAwayOrComesBack();
        }
        $isNew = static fn(array $one): bool => !in_array($one['id'], $known, true) && str_contains(json_encode($one) ?: '', 'Boarding stands still');
        $events = array_values(array_filter(Instance::events(), $isNew));
        self::assertCount(1, $events);
        [$event] = $events;
        self::assertSame(['1.0', 'olivine.incident.raised'], [$event['event']['specversion'], $event['event']['type']]);
        self::assertSame(['critical', 'open'], [$event['event']['data']['incident']['severity'], $event['event']['data']['incident']['status']]);
        self::assertStringStartsWith('Boarding stands still on broker-test', $event['event']['data']['alerts'][0]['name']);
        $key = $this->database->fetchOne("SELECT message_key FROM delivery WHERE channel <> 'e-mail' AND incident_id = ?", $this->incidents());
        self::assertSame($key, $event['id']);
        $trail = implode("\n", array_column($this->engineer->send('GET', "/api/incidents/{$this->incidents()[0]}")[1]['trail'], 'words'));
        self::assertMatchesRegularExpression('~rung 1: e-mail to .* (failed \(attempt 1\)|waits)~', $trail);
        self::assertMatchesRegularExpression('~rung 1: harbour-board to .*, taken over there in \d+ ms~', $trail);
        sleep(4);
        self::assertCount($mails, Instance::letters(), 'the mail does not come after it');
    }

    /** @return iterable<string, array{string, string}> */
    public static function misbehaviours(): iterable
    {
        yield 'it refuses' => ['fails', 'answered with status 503: Not today'];
        yield 'it never answers' => ['hangs', 'it did not answer within 3 s'];
        yield 'it keeps what it is told, and says that it failed' => ['loses', 'answered with status 500'];
    }

    /** While a webhook hangs or fails, mail goes out as ever; when it is well again it is told at once, once under each key. */
    #[DataProvider('misbehaviours')]
    public function testAWebhookThatFailsDelaysNobody(string $mode, string $reason): void
    {
        $known = array_column(Instance::events(), 'arrivals', 'id');
        $id = $this->raise('Disk fills', 'minor');
        Instance::eventually(fn(): bool => $this->statuses() === ['e-mail' => 'sent'], 40, 'it is told by mail');
        $incident = $this->incidents()[0];
        self::sink($mode);
        $person = (int) $this->database->fetchOne('SELECT person_id FROM delivery WHERE incident_id = ?', [$incident]);
        $this->database->executeStatement(
            "INSERT INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
             VALUES (?, 'raised', 9, ?, ?, UNIX_TIMESTAMP() * 1000, 'planned', 0, 0, '', ?)",
            [$incident, $person, DemoPeople::WEBHOOK, "by-hand-{$this->service}"],
        );
        Instance::eventually(fn(): bool => str_contains($this->channel(DemoPeople::WEBHOOK)['reason'], $reason), 40, 'the page says why');
        $away = fn(): ?array => array_column($this->engineer->send('GET', '/api/watch')[1]['away'], null, 'name')[DemoPeople::WEBHOOK] ?? null;
        Instance::eventually(static fn(): bool => str_contains($away()['reason'] ?? '', $reason), 10, 'and so does Watch');
        $status = Instance::console('olivine:status');
        self::assertSame(1, $status->getExitCode());
        self::assertMatchesRegularExpression('~harbour-board takes nothing for .*; 1 wait~', $status->getOutput());
        $began = microtime(true);
        $this->happens($id, 'tickets', 'building', 'raised', 'critical', 900);
        Instance::eventually(fn(): bool => $this->sent('worse') === 1, 40, 'mail goes out as ever');
        self::assertLessThan(Instance::patience(5), microtime(true) - $began);
        self::sink('takes');
        Instance::eventually(
            fn(): bool => $this->database->fetchOne('SELECT status FROM delivery WHERE message_key = ?', ["by-hand-{$this->service}"]) === 'sent',
            60,
            'it is told when it is well again',
        );
        $arrivals = array_diff_key(array_column(Instance::events(), 'arrivals', 'id'), $known);
        self::assertSame(["by-hand-{$this->service}"], array_keys($arrivals), 'one event, however often it arrived');
        self::assertSame($mode === 'loses', $arrivals["by-hand-{$this->service}"] > 1);
    }

    /** What waits for a webhook that is removed goes on: the trail says so, and it can be seen and sent again. */
    public function testAWebhookThatIsRemovedLeavesNothingBehind(): void
    {
        [$code, $webhook, $text] = $this->admin->send('POST', '/api/channels', [
            'name' => 'pier-hook',
            'url' => 'http://127.0.0.1:' . Instance::port(7) . '/events',
            'standsIn' => false,
        ]);
        self::assertSame(201, $code, $text);
        self::assertSame(48, strlen($webhook['secret']));
        self::assertNull(array_column($this->admin->send('GET', '/api/channels/set-up')[1], 'secret', 'name')['pier-hook'], 'a secret is shown once');
        [, $test] = $this->admin->send('POST', "/api/channels/{$webhook['id']}/test", []);
        self::assertSame([false, 'answered with status 401: The signature is not ours'], [$test['ok'], $test['message']]);
        $changed = ['secret' => DemoPeople::WEBHOOK_SECRET] + array_diff_key($webhook, ['id' => 0]);
        self::assertSame(200, $this->admin->send('PUT', "/api/channels/{$webhook['id']}", $changed)[0]);
        self::assertSame(409, $this->admin->send('PUT', "/api/channels/{$webhook['id']}", $changed)[0], 'from what was read before');
        [, $test] = $this->admin->send('POST', "/api/channels/{$webhook['id']}/test", []);
        self::assertMatchesRegularExpression('~^It was taken in \d+ ms: status 202$~', $test['message']);

        $this->raise('Disk fills', 'minor');
        Instance::eventually(fn(): bool => $this->statuses() === ['e-mail' => 'sent'], 40, 'it is told by mail');
        $incident = $this->incidents()[0];
        $inAnHour = (int) (microtime(true) * 1000) + 3_600_000;
        $this->database->executeStatement(
            "INSERT INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
             SELECT incident_id, 'raised', 9, person_id, 'pier-hook', due_at, 'planned', 0, ?, '', ? FROM delivery WHERE incident_id = ?",
            [$inAnHour, "orphan-{$this->service}", $incident],
        );
        self::assertSame(204, $this->admin->send('DELETE', "/api/channels/{$webhook['id']}", [])[0]);
        Instance::eventually(fn(): bool => $this->given("orphan-{$this->service}") !== null, 40, 'it is given up, and said');
        $failed = $this->given("orphan-{$this->service}") ?? self::fail('it is not there any more');
        self::assertSame(['pier-hook', $incident], [$failed['channel'], $failed['incident']]);
        self::assertStringContainsString('there is no channel pier-hook any more', $failed['reason']);
        self::assertSame(403, (new Client('viewer@saltmarsh.example'))->send('POST', "/api/messages/{$failed['id']}/again", [])[0]);
        $byMail = fn(): mixed => $this->database->fetchOne(
            "SELECT status FROM delivery WHERE incident_id = ? AND round = 9 AND channel = 'e-mail'",
            [$incident],
        );
        Instance::eventually(static fn(): bool => $byMail() === 'sent', 40, 'it begins at the first way again');
        self::assertSame(204, $this->engineer->send('POST', "/api/messages/{$failed['id']}/again", [])[0]);
        self::assertSame(409, $this->engineer->send('POST', "/api/messages/{$failed['id']}/again", [])[0]);
    }

    /** One address that is refused is no server that is away; and one message that fails in a way that nobody foresaw stops none of the others. */
    public function testOneMessageThatFailsIsToldFromAChannelThatDoes(): void
    {
        $this->raise('Disk fills', 'minor');
        Instance::eventually(fn(): bool => $this->statuses() === ['e-mail' => 'sent'], 40, 'it is told by mail');
        [$incident] = $this->incidents();
        $inAnHour = (int) (microtime(true) * 1000) + 3_600_000;
        $plant = fn(int $of, string $kind, int $dueAt, int $nextAt, string $key): int|string => $this->database->insert('delivery', [
            'incident_id' => $of,
            'kind' => $kind,
            'round' => 9,
            'person_id' => (int) $this->database->fetchOne('SELECT person_id FROM delivery WHERE incident_id = ?', [$incident]),
            'channel' => 'e-mail',
            'due_at' => $dueAt,
            'status' => 'planned',
            'attempts' => 1,
            'next_at' => $nextAt,
            'answer' => '550 no such person',
            'message_key' => "{$key}-{$this->service}",
        ]);
        $away = fn(): array => array_column($this->engineer->send('GET', '/api/watch')[1]['away'], 'isThere', 'name');
        $plant($incident, 'raised', 1, $inAnHour, 'refused');
        Instance::eventually(static fn(): bool => $away() === ['e-mail' => true], 10, 'it took others since');
        $this->database->executeStatement('UPDATE delivery SET due_at = ? WHERE message_key = ?', [$inAnHour, "refused-{$this->service}"]);
        Instance::eventually(static fn(): bool => $away() === ['e-mail' => false], 10, 'it took nothing since');
        self::assertFalse($this->channel('e-mail')['refusesSome']);

        // An incident that no version of ours would write.
        $odd = ['service' => $this->service, 'title' => 'Odd', 'severity' => 'odd', 'status' => 'resolved'];
        $this->database->insert('incident', $odd + ['opened_at' => 1, 'resolved_at' => 1, 'replayed' => 0]);
        $plant((int) $this->database->lastInsertId(), 'recovered', 1, 0, 'odd');
        $id = (int) $this->database->lastInsertId();
        $this->raise('Boarding stands still', 'critical');
        Instance::eventually(fn(): bool => $this->sent('worse') === 1, 40, 'others go out');
        Instance::eventually(
            fn(): bool => in_array("message {$id}", $this->database->fetchFirstColumn("SELECT subject FROM set_aside WHERE part = 'mail'"), true),
            40,
            'it is set aside',
        );
        self::assertSame('planned', $this->database->fetchOne('SELECT status FROM delivery WHERE id = ?', [$id]), 'and is tried again later');
        $this->database->delete('set_aside', ['part' => 'mail', 'subject' => "message {$id}"]);
    }

    /** A mail server that answers a letter at a time is away: nobody waits for the end of its line. */
    public function testAConnectionThatDripsOrTakesNothingIsGivenUpInTime(): void
    {
        $server = new Process([PHP_BINARY, '-r', <<<'PHP'
            $server = stream_socket_server('tcp://127.0.0.1:0');
            echo stream_socket_get_name($server, false), "\n";
            $drips = stream_socket_accept($server, 60);
            foreach (str_split(str_repeat('2', 400)) as $letter) {
                @fwrite($drips, $letter);
                usleep(100_000);
            }
            PHP]);
        $server->start();
        $server->waitUntil(static fn(string $type, string $text): bool => str_contains($text, "\n"));
        $port = (int) substr((string) strrchr(trim($server->getOutput()), ':'), 1);
        try {
            $ways = [
                'did not answer within 2 s' => static fn(BoundedStream $stream) => $stream->readLine(),
                'took no more within 2 s' => static fn(BoundedStream $stream) => $stream->write(str_repeat('x', 50_000_000)),
            ];
            foreach ($ways as $words => $do) {
                // The second one waits to be accepted, and is read by nobody.
                $stream = new BoundedStream('127.0.0.1', $port, false);
                $stream->begin(2.0);
                $stream->initialize();
                $began = microtime(true);
                try {
                    $do($stream);
                    self::fail('it came to an end');
                } catch (TransportException $error) {
                    self::assertStringEndsWith($words, $error->getMessage());
                    self::assertGreaterThan(1.5, microtime(true) - $began);
                    self::assertLessThan(Instance::patience(2), microtime(true) - $began);
                }
            }
        } finally {
            $server->stop(0);
        }
    }

    /** What docs/webhooks.md works out by example is what whoever receives it must come to. */
    public function testTheSignatureOfTheDocumentIsThatOfItsExample(): void
    {
        $document = (string) file_get_contents(__DIR__ . '/../../docs/webhooks.md');
        $pattern = '~the secret `([^`]+)`, the time `(\d+)` and the body `([^`]+)` give\s+`sha256=([0-9a-f]{64})`~';
        preg_match($pattern, $document, $part) === 1 || self::fail('there is no example');
        self::assertSame(hash_hmac('sha256', "{$part[2]}.{$part[3]}", $part[1]), $part[4]);
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function refused(): iterable
    {
        $plain = ['name' => 'pier-hook', 'url' => 'https://board.saltmarsh.example/told'];
        yield 'two words' => [['name' => 'pier hook'] + $plain, 'name must be one word'];
        yield 'the name of mail' => [['name' => 'E-Mail'] + $plain, 'There is a channel named E-Mail already'];
        yield 'a name that is there' => [['name' => DemoPeople::WEBHOOK] + $plain, 'There is a channel named'];
        yield 'no address' => [['url' => 'board'] + $plain, 'url must be a whole http or https address'];
        yield 'with a password' => [['url' => 'https://a:b@board.saltmarsh.example/'] + $plain, 'must not hold a user or password'];
        yield 'the metadata of a cloud' => [['url' => 'http://169.254.169.254/latest'] + $plain, 'which Olivine never asks'];
        yield 'our own database' => [['url' => 'http://127.0.0.1:{database}/'] + $plain, 'leads to a part of Olivine itself'];
        yield 'our own pages' => [['url' => 'http://127.0.0.1:{web}/api/people'] + $plain, 'leads to a part of Olivine itself'];
        yield 'a short secret' => [['secret' => 'tide'] + $plain, 'secret must have at least 16 characters'];
        yield 'a field that is none' => [['adress' => 'x'] + $plain, 'There is no field adress here'];
    }

    /** @param array<string, mixed> $written */
    #[DataProvider('refused')]
    public function testSaysWhatAWebhookMayNotBe(array $written, string $words): void
    {
        $written = array_map(
            static fn(mixed $one): mixed => is_string($one)
                ? strtr($one, ['{database}' => (string) Instance::port(1), '{web}' => (string) Instance::port(0)])
                : $one,
            $written,
        );
        [$code, , $text] = $this->admin->send('POST', '/api/channels', $written);
        self::assertSame(422, $code, $text);
        self::assertStringContainsString($words, (string) json_decode($text, true)['title']);
    }

    private function raise(string $name, string $severity): int
    {
        $rule = $this->rule($name, $severity);
        $this->happens($rule, 'boarding', 'building', 'raised', $severity, 900);

        return $rule;
    }

    /** @return list<int> */
    private function incidents(): array
    {
        return array_map(intval(...), $this->database->fetchFirstColumn('SELECT id FROM incident WHERE service = ? ORDER BY id', [$this->service]));
    }

    /** @return array<string, string> way → how far the first rung is by it */
    private function statuses(): array
    {
        return array_map(strval(...), $this->database->fetchAllKeyValue(
            "SELECT d.channel, d.status FROM delivery d JOIN incident i ON i.id = d.incident_id
             WHERE i.service = ? AND d.kind = 'raised' AND d.round = 1 ORDER BY d.channel",
            [$this->service],
        ));
    }

    private function sent(string $kind): int
    {
        return (int) $this->database->fetchOne(
            "SELECT COUNT(*) FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.service = ? AND d.kind = ? AND d.status = 'sent'",
            [$this->service, $kind],
        );
    }

    /** @return array<string, mixed> */
    private function channel(string $name): array
    {
        return array_column($this->engineer->send('GET', '/api/channels')[1]['channels'], null, 'name')[$name];
    }

    /** @return array<string, mixed>|null */
    private function given(string $key): ?array
    {
        $id = (int) $this->database->fetchOne('SELECT id FROM delivery WHERE message_key = ?', [$key]);

        return array_column($this->engineer->send('GET', '/api/channels')[1]['failed'], null, 'id')[$id] ?? null;
    }

    private static function sink(string $mode): void
    {
        self::post('http://127.0.0.1:' . Instance::port(7) . '/mode', "mode={$mode}");
    }

    private static function mailGoesAwayOrComesBack(): void
    {
        self::post('http://127.0.0.1:' . Instance::port(3) . '/away', '');
    }

    private static function post(string $address, string $body): void
    {
        file_get_contents($address, false, stream_context_create([
            'http' => [
                'method' => 'POST',
                'header' => 'Content-Type: application/x-www-form-urlencoded',
                'content' => $body,
                'follow_location' => 0,
                'ignore_errors' => true,
            ],
        ]));
    }
}

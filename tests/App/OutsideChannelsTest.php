<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\Channel\Answered;
use Olivine\App\Delivery\Entity\Ticket;
use Olivine\App\Demo\DemoChannels;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;

/** People are reached by telephone and chat and answer there, and a desk keeps one ticket an incident. */
final class OutsideChannelsTest extends TestCase
{
    use MadeUpAlerts;

    private const PHONE = 8;
    private const CHAT = 9;
    private const DESK = 10;

    private int $planted = 0;

    protected function assertPostConditions(): void
    {
        foreach ([self::PHONE, self::CHAT, self::DESK] as $offset) {
            Instance::press($offset, '/mode', ['mode' => 'takes']);
        }
    }

    /** Two rungs' worth of telephones: the first cannot, the second says ok; each answer is done once, and said to whoever gave it. */
    public function testAnswersByShortMessage(): void
    {
        $incident = $this->opened('critical');
        $ines = $this->sends($incident, 'ines@saltmarsh.example', DemoChannels::SMS);
        $text = $ines['message']['text'];
        $written = '~^\[critical\] Boarding stands still on broker-test.*Answer: ok (\w\d\w) = I have it, no \1 = I cannot$~s';
        self::assertMatchesRegularExpression($written, $text);
        self::assertSame(['+447700900101', 'Saltmarsh'], [$ines['message']['to'], $ines['message']['from']]);
        $code = substr($text, -34, 3);


        self::assertSame('Olivine understands: ok, take, no, give NAME, note WORDS; each with the three letters of the message.', $this->texts($ines, 'who?'));
        self::assertSame('z9z is the code of nothing that you were told of.', $this->texts($ines, 'ok z9z'));
        self::assertSame("Noted with Incident {$incident}.", $this->texts($ines, "note {$code} the pump is off"));
        self::assertSame("Noted: you cannot see to Incident {$incident}; the next rung is climbed.", $this->texts($ines, "No {$code}"));
        $sunniva = $this->sends($incident, 'sunniva@saltmarsh.example', DemoChannels::SMS);
        $yours = "Incident {$incident} is yours for 2 h; nobody else is woken for it.";
        self::assertSame($yours, $this->texts($sunniva, 'OK 2h'), 'there is one only, so no code');
        self::assertSame("You have Incident {$incident} already.", $this->texts($sunniva, 'ok'));
        self::assertSame("Sunniva Patel has Incident {$incident}. To take it: take.", $this->texts($ines, "ok {$code}"));
        self::assertSame("Incident {$incident} is Oyelaran Bright's, who is told.", $this->texts($sunniva, 'give oyelaran'));
        $shown = $this->engineer->send('GET', "/api/incidents/{$incident}")[1];
        self::assertSame('acknowledged', $shown['status']);
        $trail = implode("\n", array_column($shown['trail'], 'words'));
        foreach (
            [
                'Ines Duarte: the pump is off (by sms)', 'Ines Duarte cannot by sms: the next rung is climbed at once',
                'Sunniva Patel acknowledged for 2 h by sms', 'Sunniva Patel gave it to Oyelaran Bright: by sms',
            ] as $words
        ) {
            self::assertStringContainsString($words, $trail);
        }
        $this->engineer->send('POST', "/api/incidents/{$incident}/resolve", []);
        self::assertStringStartsWith("Incident {$incident} is over since ", $this->texts($sunniva, 'ok'));
    }

    /** An answer that arrives twice is done once; what is not signed, is old, or is no answer is refused; a stranger is known by nobody. */
    public function testWhoAnswersIsProvenAndHeardOnce(): void
    {
        $incident = $this->opened('major');
        // Whoever has verified no number is not called, and the trail says so.
        $this->plant($incident, 'tomasz@saltmarsh.example', DemoChannels::VOICE);
        Instance::eventually(fn(): bool => $this->trailSays($incident, 'Tomasz Reyes has no verified number'), 40, 'it is said');
        $told = $this->sends($incident, 'oyelaran@saltmarsh.example', DemoChannels::VOICE);
        self::assertStringContainsString('I repeat.', $told['message']['say']);
        $pressed = ['id' => "press-{$this->service}", 'from' => '+447700900103', 'key' => '1', 'message' => $told['message']['id']];
        self::assertSame([401, 401, 401], [
            self::arrives(DemoChannels::VOICE, $pressed, 'not the secret of it'),
            self::arrives('no-such-channel', $pressed, DemoChannels::PHONE_SECRET),
            self::arrives(DemoChannels::VOICE, $pressed, DemoChannels::PHONE_SECRET, time() - 400),
        ]);
        self::assertSame('open', $this->statusOf($incident));
        $yours = "Incident {$incident} is yours; nobody else is woken for it.";
        self::assertSame([$yours, $yours], [
            self::arrives(DemoChannels::VOICE, $pressed, DemoChannels::PHONE_SECRET),
            self::arrives(DemoChannels::VOICE, $pressed, DemoChannels::PHONE_SECRET),
        ], 'the same is said to the same');
        $times = "SELECT COUNT(*) FROM trail WHERE incident_id = ? AND words LIKE '%acknowledged by voice%'";
        self::assertSame(1, (int) $this->database->fetchOne($times, [$incident]));
        // An id that differs in its case only is another answer; a call to one person is not answered by another; a number is one however it is written.
        $other = ['id' => strtoupper($pressed['id'])] + $pressed;
        self::assertSame("You have Incident {$incident} already.", self::arrives(DemoChannels::VOICE, $other, DemoChannels::PHONE_SECRET));
        $sunniva = ['id' => "not-hers-{$this->service}", 'from' => '+447700900105'] + $pressed;
        self::assertSame('That message was for somebody else.', self::arrives(DemoChannels::VOICE, $sunniva, DemoChannels::PHONE_SECRET));
        $spaced = ['id' => "spaced-{$this->service}", 'from' => '+44 7700 900-103'] + $pressed;
        self::assertSame("You have Incident {$incident} already.", self::arrives(DemoChannels::VOICE, $spaced, DemoChannels::PHONE_SECRET));
        $elsewhere = ['id' => "elsewhere-{$this->service}"] + $pressed;
        self::assertSame('Olivine does not know that message any more.', self::arrives(DemoChannels::SMS, $elsewhere, DemoChannels::PHONE_SECRET));
        $stranger = ['id' => "stranger-{$this->service}", 'from' => '+447700900999'] + $pressed;
        self::assertStringStartsWith('Olivine does not know who you are', (string) self::arrives(DemoChannels::VOICE, $stranger, DemoChannels::PHONE_SECRET));
        self::assertSame(422, self::arrives(DemoChannels::VOICE, ['from' => '+447700900103'], DemoChannels::PHONE_SECRET));
        self::assertSame(400, self::arrives(DemoChannels::VOICE, 'no JSON', DemoChannels::PHONE_SECRET));
    }

    /** A button in the chat takes it; whoever is not known by that name does not. */
    public function testAButtonInTheChatAnswers(): void
    {
        $incident = $this->opened('major');
        $said = $this->sends($incident, 'mei-lin@saltmarsh.example', DemoChannels::CHAT);
        self::assertSame(['skarn-pier', "incident-{$incident}", '@mei-lin', 3], [
            $said['message']['room'],
            $said['message']['thread'],
            $said['message']['for'],
            count($said['message']['buttons']),
        ]);
        $press = function (string $who, string $button) use ($said): string {
            $id = DemoChannels::CHAT . " {$said['message']['id']}";
            Instance::press(self::CHAT, '/answer', ['id' => $id, 'who' => $who, 'button' => $button]);
            $answers = array_column(Instance::told(self::CHAT), 'answers', 'at')[$said['at']];

            return $answers[count($answers) - 1][1];
        };
        self::assertStringStartsWith('Olivine does not know who you are', $press('@nobody', 'acknowledge'));
        self::assertSame("Incident {$incident} is yours; nobody else is woken for it.", $press('Oyelaran', 'acknowledge'));
        self::assertSame("Incident {$incident} is yours.", $press('@mei-lin', 'take'));
        self::assertStringContainsString('Mei-Lin Aaker took it: by crew-chat', implode("\n", array_column($this->trail($incident), 'words')));
    }

    /** The telephones hang: whoever is told by mail, chat and ticket meanwhile is told as soon as ever. */
    public function testOneThatHangsDelaysNobodyElse(): void
    {
        $incident = $this->opened('major');
        Instance::press(self::PHONE, '/mode', ['mode' => 'hangs']);
        $keys = [];
        foreach (range(1, 5) as $_) {
            $this->plant($incident, 'ines@saltmarsh.example', DemoChannels::SMS, 'worse');
            $this->plant($incident, 'oyelaran@saltmarsh.example', DemoChannels::VOICE, 'worse');
            foreach (['e-mail' => 'sunniva', DemoChannels::CHAT => 'mei-lin'] as $channel => $who) {
                $keys[] = $this->plant($incident, "{$who}@saltmarsh.example", $channel, 'worse');
            }
        }
        $list = implode(', ', array_fill(0, count($keys), '?'));
        $late = fn(): array => $this->database->fetchFirstColumn(
            "SELECT sent_at - due_at FROM delivery WHERE status = 'sent' AND message_key IN ({$list})",
            $keys,
        );
        Instance::eventually(static fn(): bool => count($late()) === count($keys), 40, 'all of the others are out');
        self::assertLessThan(Instance::patience(4) * 1_000, max($late() ?: [0]), 'a hanging one takes three seconds for each that it does not answer');
        $waiting = "SELECT COUNT(*) FROM delivery WHERE incident_id = ? AND channel IN (?, ?) AND status NOT IN ('sent', 'dropped')";
        $waits = fn(): mixed => $this->database->fetchOne($waiting, [$incident, DemoChannels::SMS, DemoChannels::VOICE]);
        Instance::press(self::PHONE, '/mode', ['mode' => 'takes']);
        Instance::eventually(static fn(): bool => $waits() === 0, 120, 'what waited for them is told by another way, or by them when they are there again');
    }

    /** One ticket, opened once however often the desk says that it failed; its comments, its end, and its owner read back. */
    public function testADeskKeepsOneTicketAnIncident(): void
    {
        Instance::press(self::DESK, '/mode', ['mode' => 'loses']);
        $incident = $this->opened('major');
        $this->plant($incident, null, DemoChannels::DESK, 'copy opened');
        $isOfIt = static fn(array $one): bool => $one['of'] === "incident-{$incident}";
        $tickets = static fn(): array => array_values(array_filter(Instance::told(self::DESK), $isOfIt));
        Instance::eventually(static fn(): bool => ($tickets()[0]['arrivals'] ?? 0) > 1, 60, 'it arrived twice');
        Instance::press(self::DESK, '/mode', ['mode' => 'takes']);
        $row = fn(): array|false => $this->database->fetchAssociative('SELECT * FROM ticket WHERE incident_id = ?', [$incident]);
        Instance::eventually(static fn(): bool => $row() !== false, 60, 'its key is kept');
        self::assertCount(1, $tickets(), 'it is one ticket');
        $key = $tickets()[0]['id'];
        Instance::press(self::DESK, '/change', ['key' => $key, 'owner' => 'Harbour crew', 'state' => 'in work']);
        $this->database->executeStatement('UPDATE ticket SET looked_at = 0 WHERE incident_id = ?', [$incident]);
        Instance::eventually(static fn(): bool => ($row() ?: [])['owner'] === 'Harbour crew', 40, 'its owner is read back');
        self::assertSame(
            [['channel' => DemoChannels::DESK, 'key' => $key, 'state' => 'in work', 'owner' => 'Harbour crew']],
            array_map(
                static fn(array $one): array => array_intersect_key($one, ['channel' => 1, 'key' => 1, 'state' => 1, 'owner' => 1]),
                $this->engineer->send('GET', "/api/incidents/{$incident}")[1]['tickets'],
            ),
        );
        $this->engineer->send('POST', "/api/incidents/{$incident}/resolve", []);
        $this->plant($incident, null, DemoChannels::DESK, 'copy resolved');
        Instance::eventually(static fn(): bool => $tickets()[0]['state'] === 'done', 40, 'it is closed');
        self::assertStringContainsString('[cleared]', implode('', $tickets()[0]['comments']));
        $this->database->executeStatement('DELETE FROM ticket WHERE incident_id = ?', [$incident]);
    }

    /** A number is verified by the code that arrives there; until then it is nobody's, and nothing else goes there. */
    public function testANumberIsVerifiedByWhatArrivesThere(): void
    {
        $viewer = new Client('oyelaran@saltmarsh.example');
        $number = '+4477009002' . random_int(10, 99);
        $wrong = ['kind' => 'phone', 'label' => "second {$this->service}", 'address' => '0351 44'];
        self::assertSame('address', $viewer->send('POST', '/api/session/contacts', ['label' => 'second'] + $wrong)[1]['field']);
        [$status, $own] = $viewer->send('POST', '/api/session/contacts', ['label' => 'second', 'address' => " {$number} "] + $wrong);
        self::assertSame(201, $status);
        $mine = array_column($own['contacts'], null, 'address')[$number];
        try {
            self::assertSame(['phone', 'phone/second', null], [$mine['kind'], $mine['way'], $mine['verifiedAt']]);
            $arrived = static fn(): ?array => array_find(Instance::told(self::PHONE), static fn(array $one): bool => $one['message']['to'] === $number);
            Instance::eventually(static fn(): bool => $arrived() !== null, 40, 'the code arrives');
            $unknown = ['id' => "early-{$this->service}", 'from' => $number, 'text' => 'ok'];
            self::assertStringStartsWith('Olivine does not know', (string) self::arrives(DemoChannels::SMS, $unknown, DemoChannels::PHONE_SECRET));
            $code = substr($arrived()['message']['text'] ?? '', 0, 6);
            self::assertSame(200, $viewer->send('POST', "/api/session/contacts/{$mine['id']}/verify", ['code' => $code])[0]);
            $known = ['id' => "late-{$this->service}", 'from' => $number, 'text' => 'hello?'];
            self::assertStringStartsWith('Olivine understands', (string) self::arrives(DemoChannels::SMS, $known, DemoChannels::PHONE_SECRET));
        } finally {
            self::assertSame(204, $viewer->send('DELETE', "/api/session/contacts/{$mine['id']}", [])[0]);
        }
    }

    /** Whatever another program brings, signed as it should be: something is said to it, or what is wrong; nobody is in anybody's hands. */
    public function testWhateverIsBroughtIsHeardOrRefused(): void
    {
        $incident = $this->opened('major');
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 14));
        $statuses = [];
        $pieces = ['', '"', '{', '}', "\0", "\xff", '\\u0000', '[]', 'null', '1e999', ',', ':', str_repeat('x', 3_000), '+447700900101', '😀'];
        $whole = ['id' => "any-{$this->service}", 'from' => '+447700900999', 'text' => 'ok k7q 2h', 'key' => '1', 'button' => 'take', 'message' => 'raised-1'];
        for ($i = 0; $i < 400; ++$i) {
            $body = json_encode(['id' => "any-{$i}-{$this->service}"] + $whole, JSON_THROW_ON_ERROR);
            for ($times = mt_rand(0, 3); $times > 0; --$times) {
                $body = substr_replace($body, $pieces[mt_rand(0, count($pieces) - 1)], mt_rand(0, strlen($body)), mt_rand(0, 4));
            }
            [$channel, $secret] = $i % 2 === 0 ? [DemoChannels::SMS, DemoChannels::PHONE_SECRET] : [DemoChannels::CHAT, DemoChannels::CHAT_SECRET];
            $said = self::arrives($channel, $body, $secret);
            $statuses[is_int($said) ? $said : 200] = true;
            self::assertTrue(is_string($said) ? $said !== '' : $said >= 400 && $said < 500, "{$said}: {$body}");
        }
        ksort($statuses);
        self::assertSame([200, 400, 422], array_keys($statuses), 'all of these happened');
        self::assertSame('open', $this->statusOf($incident));
    }

    /** What a desk says of a ticket is kept as far as it is what it should be: 10,000 answers. */
    public function testWhateverADeskSaysOfATicket(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 15));
        $pieces = ['', '"', '}', "\0", "\xff", '\\ud800', 'null', '[1]', '7', 'javascript:alert(1)', str_repeat('é', 600), ',"state":', ',"url":'];
        $kept = 0;
        for ($i = 0; $i < 10_000; ++$i) {
            $said = '{"key":"PIER-1","state":"in work","owner":"Harbour crew","url":"https://desk.example/#PIER-1"}';
            for ($times = mt_rand(0, 4); $times > 0; --$times) {
                $said = substr_replace($said, $pieces[mt_rand(0, count($pieces) - 1)], mt_rand(0, strlen($said)), mt_rand(0, 12));
            }
            $ticket = new Ticket(DemoChannels::DESK, 1, 'PIER-1', Instant::ofMs(0));
            $ticket->stands((new Answered(200, $said))->said(), Instant::ofMs($i));
            self::assertTrue(mb_check_encoding("{$ticket->state}{$ticket->owner}{$ticket->url}", 'UTF-8'));
            self::assertLessThanOrEqual(40, mb_strlen($ticket->state));
            self::assertLessThanOrEqual(120, mb_strlen($ticket->owner));
            self::assertMatchesRegularExpression('~^$|^https?://~', $ticket->url, 'it becomes a link');
            $kept += $ticket->owner === 'Harbour crew' ? 1 : 0;
        }
        self::assertGreaterThan(1_000, min($kept, 10_000 - $kept), 'both happened');
    }

    /** What is told together names the first of them, and the gravest. */
    public function testOneMessageOfSeveralNamesTheFirstAndTheGravest(): void
    {
        $ids = [];
        foreach ([['Gate is slow', 'minor'], ['Gate is down', 'critical'], ['Gate is odd', 'warning']] as [$title, $severity]) {
            $this->database->insert('incident', [
                'service' => $this->service,
                'title' => $title,
                'severity' => $severity,
                'status' => 'open',
                'opened_at' => (int) (microtime(true) * 1000),
                'replayed' => 1,
            ]);
            $ids[] = (int) $this->database->lastInsertId();
        }
        $this->database->executeStatement(
            "INSERT INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
             SELECT i.id, 'copy opened', 1, p.id, ?, UNIX_TIMESTAMP() * 1000, 'planned', 0, 0, '', CONCAT('together-', i.id)
             FROM incident i JOIN person p ON p.email = 'ines@saltmarsh.example' WHERE i.service = ? ORDER BY i.id",
            [DemoChannels::SMS, $this->service],
        );
        $texts = static fn(): array => array_map(static fn(array $one): string => $one['message']['text'] ?? '', Instance::told(self::PHONE));
        $isOfThese = static fn(string $text): bool => str_starts_with($text, '[3 together] Gate is slow; the gravest: Gate is down.');
        Instance::eventually(static fn(): bool => array_any($texts(), $isOfThese), 40, 'it arrives as one');
    }

    private function opened(string $severity): int
    {
        $id = $this->rule('Boarding stands still', $severity);
        $this->happens($id, 'tickets', 'building', 'raised', $severity, 900);
        $found = fn(): mixed => $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        Instance::eventually(static fn(): bool => $found() !== false, 40, 'there is an incident');

        return (int) $found();
    }

    private function plant(int $incident, ?string $email, string $channel, string $kind = 'raised'): string
    {
        $key = "{$kind}-{$channel}-" . bin2hex(random_bytes(4)) . "-{$this->service}";
        $person = $email === null ? 0 : (int) $this->database->fetchOne('SELECT id FROM person WHERE email = ?', [$email]);
        $this->database->executeStatement(
            "INSERT INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
             VALUES (?, ?, ?, ?, ?, UNIX_TIMESTAMP() * 1000, 'planned', 0, 0, '', ?)",
            [$incident, $kind, 9 + $this->planted++, $person, $channel, $key],
        );

        return $key;
    }

    /** @return array<string, mixed> what arrived at the other side */
    private function sends(int $incident, string $email, string $channel): array
    {
        $key = $this->plant($incident, $email, $channel);
        $offset = $channel === DemoChannels::CHAT ? self::CHAT : self::PHONE;
        $arrived = static fn(): ?array => array_find(Instance::told($offset), static fn(array $one): bool => $one['message']['id'] === $key);
        Instance::eventually(static fn(): bool => $arrived() !== null, 40, "{$channel} arrives");

        return $arrived() ?? [];
    }

    /** @param array<string, mixed> $thing */
    private function texts(array $thing, string $text): string
    {
        $id = "{$thing['how']} {$thing['message']['id']}";
        Instance::press(self::PHONE, '/answer', ['id' => $id, 'text' => $text]);
        $kept = array_find(Instance::told(self::PHONE), static fn(array $one): bool => $one['message']['id'] === $thing['message']['id']);
        $answers = $kept['answers'] ?? [];

        return $answers[count($answers) - 1][1] ?? '';
    }

    /**
     * @param array<string, string>|string $answer
     *
     * @return string|int what is said, or the status where it is refused
     */
    private static function arrives(string $channel, array|string $answer, string $secret, ?int $time = null): string|int
    {
        $body = is_string($answer) ? $answer : json_encode($answer, JSON_THROW_ON_ERROR);
        $time ??= time();
        $signature = 'sha256=' . hash_hmac('sha256', "{$time}.{$body}", $secret);
        $answered = HttpClient::create()->request('POST', Instance::web() . "/in/{$channel}", [
            'headers' => ['Content-Type' => 'application/json', 'Olivine-Time' => (string) $time, 'Olivine-Signature' => $signature],
            'body' => $body,
        ]);

        return $answered->getStatusCode() === 200 ? $answered->toArray()['say'] : $answered->getStatusCode();
    }

    private function statusOf(int $incident): string
    {
        return (string) $this->database->fetchOne('SELECT status FROM incident WHERE id = ?', [$incident]);
    }

    /** @return list<array<string, mixed>> */
    private function trail(int $incident): array
    {
        return $this->engineer->send('GET', "/api/incidents/{$incident}")[1]['trail'];
    }

    private function trailSays(int $incident, string $words): bool
    {
        return str_contains(implode("\n", array_column($this->trail($incident), 'words')), $words);
    }
}

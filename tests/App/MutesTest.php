<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\TestCase;

/** Mutes and maintenance on an instance that runs: nobody is told, the trail says so, and it is not lost. */
final class MutesTest extends TestCase
{
    use MadeUpAlerts {
        tearDown as letGo;
    }

    protected function tearDown(): void
    {
        $this->database->executeStatement('DELETE FROM mute WHERE name LIKE ?', ["%{$this->service}%"]);
        $this->letGo();
    }

    public function testWhatIsMutedTellsNobodyUntilItEnds(): void
    {
        [$status, $mute, $text] = $this->engineer->send('POST', '/api/mutes', $this->fields());
        self::assertSame(201, $status, $text);
        self::assertSame([true, 0, 'Ines Duarte'], [$mute['isNow'], $mute['hides'], $mute['author']]);
        $rule = $this->rule('Boarding stands still', 'critical');
        $this->happens($rule, 'tickets', 'building', 'raised', 'critical', 900);
        $row = fn(): array => $this->database->fetchAssociative('SELECT * FROM incident WHERE service = ?', [$this->service]) ?: [];
        Instance::eventually(static fn(): bool => ($row()['hushed_until'] ?? null) !== null, 40, 'it is hushed');
        $incident = (int) $row()['id'];
        $shown = $this->engineer->send('GET', "/api/incidents/{$incident}")[1];
        self::assertSame([$mute["ends"], $mute["ends"]], [(int) $row()["hushed_until"], $shown["hushedUntil"]]);
        self::assertStringContainsString("hushed by the mute drill {$this->service} of Ines Duarte (we practise)", $this->trail($incident));
        sleep(4);
        self::assertSame(0, $this->told($incident), 'nobody is told after it was gathered');
        $page = $this->engineer->send('GET', '/api/mutes')[1];
        $listed = array_column($page['mutes'], null, 'id')[$mute['id']];
        self::assertSame([1, ['Boarding stands still on broker-test (tickets)']], [$listed['hides'], $listed['titles']]);
        self::assertContains("drill {$this->service}", array_column($this->engineer->send('GET', '/api/watch')[1]['hushes'], 'name'));
        self::assertSame(['alerts' => 1, 'titles' => $listed['titles']], $this->engineer->send('POST', '/api/mutes/matched', [
            'matching' => "service = \"{$this->service}\"",
        ])[1]);

        $soon = (int) (microtime(true) * 1000) + 300_000;
        $this->database->executeStatement('UPDATE mute SET to_at = ?, changed_at = changed_at + 1 WHERE id = ?', [$soon, $mute['id']]);
        $letters = fn(): int => (int) $this->database->fetchOne('SELECT COUNT(*) FROM letter WHERE letter_key LIKE ?', ["mute-ends-{$mute['id']}-%"]);
        Instance::eventually(static fn(): bool => $letters() > 0, 60, 'who muted hears before it ends');
        self::assertSame(1, $letters(), 'once');

        self::assertSame(200, $this->engineer->send('POST', "/api/mutes/{$mute['id']}/end", [])[0]);
        Instance::eventually(fn(): bool => $this->told($incident) > 0, 40, 'once it is ended somebody is told');
        self::assertNull($this->engineer->send('GET', "/api/incidents/{$incident}")[1]['hushedUntil']);
        self::assertStringContainsString('not all of it is muted any more, and it is not over: the ladder goes on', $this->trail($incident));
        self::assertSame(409, $this->engineer->send('POST', "/api/mutes/{$mute['id']}/end", [])[0]);
    }

    /** What was planned before, and was not yet taken, waits for the end of a mute; a mute that is widened lets nothing through in between. */
    public function testWhatIsOnItsWayWaitsAndAChangeLetsNothingThrough(): void
    {
        $rule = $this->rule('Boarding stands still', 'major');
        $this->happens($rule, 'tickets', 'building', 'raised', 'major', 900);
        $sent = fn(): array => $this->database->fetchFirstColumn(
            "SELECT d.status FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.service = ? AND d.status = 'sent'",
            [$this->service],
        );
        Instance::eventually(static fn(): bool => $sent() === ['sent'], 40, 'it is told');
        $incident = (int) $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        $mute = $this->engineer->send('POST', '/api/mutes', $this->fields())[1];
        $key = "late-{$this->service}";
        $this->database->executeStatement(
            "INSERT INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
             SELECT incident_id, 'worse', 9, person_id, channel, due_at, 'planned', 0, 0, '', ? FROM delivery WHERE incident_id = ? AND status = 'sent'",
            [$key, $incident],
        );
        $late = fn(): array => $this->database->fetchAssociative('SELECT status, next_at, answer FROM delivery WHERE message_key = ?', [$key]) ?: [];
        Instance::eventually(static fn(): bool => str_starts_with((string) $late()['answer'], 'hushed by the mute'), 40, 'it waits');
        self::assertContains($late()['status'], ['planned']);
        self::assertLessThan($mute['ends'], (int) $late()['next_at'], 'it is looked at again meanwhile: it may be ended by hand');
        self::assertNotNull($this->engineer->send('GET', "/api/incidents/{$incident}")[1]['hushedUntil']);

        $wider = ['version' => $mute['version'], 'matching' => "service = \"{$this->service}\" or host = \"nowhere\""] + $this->fields();
        self::assertSame(200, $this->engineer->send('PUT', "/api/mutes/{$mute['id']}", $wider)[0]);
        self::assertStringNotContainsString('not all of it is muted any more', $this->trail($incident));
        self::assertNotNull($this->engineer->send('GET', "/api/incidents/{$incident}")[1]['hushedUntil']);

        $mine = array_find($this->engineer->send('GET', '/api/mutes')[1]['mutes'], fn(array $one): bool => str_contains($one['name'], $this->service));
        $this->engineer->send('POST', "/api/mutes/{$mine['id']}/end", []);
        Instance::eventually(static fn(): bool => $late()['status'] === 'sent', 60, 'and leaves when it is ended by hand');
    }

    /** What somebody else changed meanwhile is not lost; what began is ended, and set anew with what it is to match. */
    public function testAMuteIsChanged(): void
    {
        $mute = $this->engineer->send('POST', '/api/mutes', $this->fields())[1];
        $again = ['version' => $mute['version'], 'reason' => 'we practise on'] + $this->fields();
        self::assertSame(200, $this->engineer->send('PUT', "/api/mutes/{$mute['id']}", $again)[0]);
        [$status, $problem] = $this->engineer->send('PUT', "/api/mutes/{$mute['id']}", $again);
        self::assertSame([409, 'we practise on'], [$status, $problem['now']['reason']]);
        $other = ['version' => 2, 'matching' => 'host = "nowhere"'] + $this->fields();
        $page = $this->engineer->send('PUT', "/api/mutes/{$mute['id']}", $other)[1];
        $mine = array_values(array_filter($page['mutes'], fn(array $one): bool => str_contains($one['name'], $this->service)));
        self::assertSame(['host = "nowhere"'], array_column($mine, 'matching'));
        self::assertNotSame($mute['id'], $mine[0]['id'], 'what it hushed until now is explained by what it was');
        self::assertSame(403, (new Client('viewer@saltmarsh.example'))->send('POST', '/api/mutes', $this->fields())[0]);
    }

    public function testSaysWhatAMuteMayNotBe(): void
    {
        $hour = static fn(int $hours): string => (new \DateTimeImmutable("{$hours} hours", new \DateTimeZone('Europe/Lisbon')))->format('Y-m-d H:i');
        $cases = [
            'matching: ' => ['matching' => 'service = '],
            'to must be after from, and in the future' => ['to' => $hour(-1)],
            'from must not lie in the past' => ['from' => $hour(-3)],
            'nothing is hushed for more than 31 days' => ['to' => $hour(24 * 40)],
            'zone must be a time zone' => ['zone' => 'Europe/Lisboa'],
            'recurs: ' => ['recurs' => 'FREQ=SECONDLY'],
            'to must be a time such as' => ['to' => '2026-13-40 99:99'],
            'reason' => ['reason' => ''],
        ];
        foreach ($cases as $words => $wrong) {
            [$status, $problem] = $this->engineer->send('POST', '/api/mutes', $wrong + $this->fields());
            self::assertSame(422, $status, $words);
            self::assertStringContainsString($words, $problem['title']);
        }
        self::assertFalse($this->database->fetchOne('SELECT 1 FROM mute WHERE name LIKE ?', ["%{$this->service}%"]));
    }

    /** @return array<string, string> */
    private function fields(): array
    {
        return [
            'name' => "drill {$this->service}",
            'matching' => "service = \"{$this->service}\"",
            'reason' => 'we practise',
            'to' => (new \DateTimeImmutable('2 hours', new \DateTimeZone('Europe/Lisbon')))->format('Y-m-d H:i'),
            'zone' => 'Europe/Lisbon',
        ];
    }

    private function told(int $incident): int
    {
        return (int) $this->database->fetchOne('SELECT COUNT(*) FROM delivery WHERE incident_id = ?', [$incident]);
    }

    private function trail(int $incident): string
    {
        return implode("\n", array_column($this->engineer->send('GET', "/api/incidents/{$incident}")[1]['trail'], 'words'));
    }
}

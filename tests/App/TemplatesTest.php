<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Demo\DemoChannels;
use PHPUnit\Framework\TestCase;

/** Messages are worded by people, team by team, with a look before and a way back. */
final class TemplatesTest extends TestCase
{
    use MadeUpAlerts;

    /** Written, looked at on a real incident, sent, taken back; for a team it goes before that for everyone. */
    public function testATemplateIsWrittenSentAndTakenBack(): void
    {
        $page = $this->engineer->send('GET', '/api/templates')[1];
        self::assertContains(DemoChannels::SMS, array_column($page['ways'], 'name'));
        self::assertNotContains('harbour-board', array_column($page['ways'], 'name'), 'programs read that');
        $write = fn(array $of): array => $this->engineer->send('PUT', '/api/templates', $of + ['way' => DemoChannels::SMS]);
        $number = fn(string $team): int => array_column($this->engineer->send('GET', '/api/templates')[1]['templates'], 'number', 'team')[$team] ?? 0;
        try {
            foreach (
                [
                    [['text' => '{{ nothing_such }}'], 'text', 'text: line 1: Variable "nothing_such" does not exist'],
                    [['text' => "a\n\n{% include 'x' %}"], 'text', 'text: line 3: Tag "include" is not allowed'],
                    [['text' => '{% if over %}over{% endif %}'], 'text', 'text: it says nothing'],
                    [['subject' => '{{ 1..9 }}'], 'subject', 'subject: line 1: Nothing is assigned, counted or called here (range)'],
                    [['way' => 'nowhere'], 'way', 'there is no channel nowhere'],
                    [['way' => 'harbour-board'], 'way', 'it has no template'],
                    [['team' => 'nobodys'], 'team', 'there is no team nobodys'],
                ] as [$of, $field, $words]
            ) {
                [$status, $problem, $text] = $write($of);
                self::assertSame([422, $field], [$status, $problem['field'] ?? null], $text);
                self::assertStringContainsString($words, $problem['title']);
            }
            self::assertSame(200, $write(['text' => 'ALL {{ incident.severity }} {{ text }}'])[0]);
            $own = $write(['team' => 'piers', 'text' => 'CREW {{ person }}: {{ alerts[0].value ?? "?" }} ☎']);
            self::assertSame(200, $own[0], $own[2]);
            [$status, $problem] = $write(['text' => 'later']);
            self::assertSame([409, 'ALL {{ incident.severity }} {{ text }}'], [$status, $problem['now']['text'] ?? null]);

            $incident = $this->opened();
            $looked = ['way' => DemoChannels::SMS, 'text' => 'CREW {{ person }}: {{ alerts[0].value ?? "?" }} ☎', 'incident' => $incident, 'kind' => 'raised'];
            $seen = $this->engineer->send('POST', '/api/templates/preview', $looked)[1];
            self::assertMatchesRegularExpression('~^CREW Ines Duarte: .* ☎ Answer: ok k7q~', $seen['text']);
            self::assertMatchesRegularExpression('~^\d+ places of 16 bits, as some letter is none of the plain alphabet: 2 parts$~', $seen['length']);
            $fault = $this->engineer->send('POST', '/api/templates/preview', ['text' => '{{ alerts[9].name }}'] + $looked)[1];
            self::assertStringContainsString('line 1', $fault['fault']);

            self::assertStringStartsWith('CREW Ines Duarte: ', $this->told($incident, 'ines@saltmarsh.example'), 'she is of that team');
            self::assertStringStartsWith('ALL major [major]', $this->told($incident, 'mei-lin@saltmarsh.example'));
            // What a template of yesterday asks for may be gone today: it is said as it ships, and set aside.
            $this->database->executeStatement("UPDATE template_revision SET text = '{{ gone }}' WHERE team = '' AND way = ?", [DemoChannels::SMS]);
            self::assertStringStartsWith('[major]', $this->told($incident, 'mei-lin@saltmarsh.example'));
            $why = $this->database->fetchOne("SELECT reason FROM set_aside WHERE subject = ?", ['template of ' . DemoChannels::SMS]);
            self::assertSame('line 1: Variable "gone" does not exist; it is said as it ships', $why);
        } finally {
            foreach (array_filter(['', 'piers'], static fn(string $team): bool => $number($team) > 0) as $team) {
                $gone = ['way' => DemoChannels::SMS, 'team' => $team, 'number' => $number($team)];
                self::assertSame(200, $this->engineer->send('POST', '/api/templates/remove', $gone)[0]);
            }
        }
        $revisions = $this->engineer->send('GET', '/api/templates/revisions?way=' . DemoChannels::SMS . '&team=piers')[1];
        self::assertTrue($revisions[0]['removed']);
        self::assertStringStartsWith('CREW', $revisions[1]['text'], 'the way back');
        $viewer = new Client('viewer@saltmarsh.example');
        self::assertSame(200, $viewer->send('GET', '/api/templates')[0]);
        self::assertSame(403, $viewer->send('PUT', '/api/templates', ['way' => 'e-mail', 'text' => 'x'])[0]);
    }

    private function opened(): int
    {
        $rule = $this->rule('Worded queue', 'major');
        $this->happens($rule, 'q', 'building', 'raised', 'major', 900);
        $found = fn(): mixed => $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        Instance::eventually(static fn(): bool => $found() !== false, 40, 'there is an incident');

        return (int) $found();
    }

    private function told(int $incident, string $email): string
    {
        $key = 'worded-' . bin2hex(random_bytes(6));
        $person = (int) $this->database->fetchOne('SELECT id FROM person WHERE email = ?', [$email]);
        $this->database->executeStatement(
            "INSERT INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
             VALUES (?, 'worse', ?, ?, ?, UNIX_TIMESTAMP() * 1000, 'planned', 0, 0, '', ?)",
            [$incident, random_int(10, 30_000), $person, DemoChannels::SMS, $key],
        );
        $arrived = static fn(): ?array => array_find(Instance::told(8), static fn(array $one): bool => $one['message']['id'] === $key);
        Instance::eventually(static fn(): bool => $arrived() !== null, 40, 'it arrives');

        return $arrived()['message']['text'] ?? '';
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\AlertEvents;
use Olivine\App\Delivery\RaisedBy;
use Olivine\App\Rule\Definition\LimitFields;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\ThresholdFields;
use Olivine\App\Rule\StoredTransition;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Tests\Core\PlainRosters;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;

/** Incidents as the running dispatcher makes them out of transitions, while people act on them. */
final class IncidentTest extends TestCase
{
    use MadeUpAlerts;

    private const ALERTS = 1_500;

    /** Alerts are raised while somebody resolves again and again: each alert that is still up is in an incident that is still open, so nobody goes untold. */
    public function testNoAlertFallsIntoAnIncidentThatIsBeingResolved(): void
    {
        $rule = $this->rule('Falls', 'minor');
        $http = HttpClient::create([
            'base_uri' => Instance::web(),
            'headers' => ['Cookie' => $this->engineer->cookie(), 'Content-Type' => 'application/json'],
        ]);
        $raised = 0;
        $resolved = 0;
        Instance::eventually(
            function () use ($rule, $http, &$raised, &$resolved): bool {
                for ($i = 0; $i < 20 && $raised < self::ALERTS; ++$i) {
                    $this->happens($rule, 'queue-' . ++$raised, 'building', 'raised', 'minor', 500);
                }
                $open = $this->database->fetchFirstColumn("SELECT id FROM incident WHERE service = ? AND status <> 'resolved'", [$this->service]);
                self::assertLessThanOrEqual(1, count($open), 'one service, one incident at a time');
                foreach ($open as $id) {
                    $resolved += (int) ($http->request('POST', "/api/incidents/{$id}/resolve", ['body' => '{}'])->getStatusCode() === 200);
                }

                return $raised === self::ALERTS && (int) $this->database->fetchOne(
                    "SELECT COUNT(*) FROM transition t JOIN rule_revision v ON v.rule_id = t.rule_id
                     WHERE JSON_VALUE(v.definition, '$.service') = ? AND t.taken = 0",
                    [$this->service],
                ) === 0;
            },
            120,
            'every transition is taken',
        );
        self::assertGreaterThan(2, $resolved, 'there was something to race with');
        self::assertSame(
            [],
            $this->database->fetchFirstColumn(
                "SELECT a.labels FROM incident_alert a JOIN incident i ON i.id = a.incident_id
                 WHERE i.service = ? AND i.status = 'resolved' AND a.cleared_at IS NULL",
                [$this->service],
            ),
        );
        self::assertSame(
            self::ALERTS,
            (int) $this->database->fetchOne('SELECT COUNT(*) FROM incident_alert a JOIN incident i ON i.id = a.incident_id WHERE i.service = ?', [
                $this->service,
            ]),
            'each alert once',
        );
    }

    /** Who is woken reads what is worst, not what came first. */
    public function testAnIncidentIsCalledAfterTheGravestOfItsAlerts(): void
    {
        $minor = $this->rule('Disk fills', 'minor');
        $critical = $this->rule('Boarding stands still', 'critical');
        $this->happens($minor, 'boarding', 'building', 'raised', 'minor', 500);
        Instance::eventually(fn(): bool => str_starts_with($this->title(), 'Disk fills'), 20, 'the incident');
        $this->happens($minor, 'tickets', 'building', 'raised', 'minor', 500);
        $this->happens($critical, 'boarding', 'building', 'raised', 'critical', 900);
        Instance::eventually(fn(): bool => str_starts_with($this->title(), 'Boarding stands still'), 20, 'its graver name');
        $this->happens($minor, 'gates', 'building', 'raised', 'minor', 500);
        Instance::eventually(
            fn(): bool => (int) $this->database->fetchOne(
                'SELECT COUNT(*) FROM incident_alert a JOIN incident i ON i.id = a.incident_id WHERE i.service = ?',
                [$this->service],
            ) === 4,
            20,
            'all four',
        );
        self::assertStringStartsWith('Boarding stands still on broker-test (boarding) has held above 400', $this->title());
        self::assertSame('critical', $this->database->fetchOne('SELECT severity FROM incident WHERE service = ?', [$this->service]));
        self::assertStringContainsString(
            'the incident is now critical: Boarding stands still',
            implode(
                "\n",
                $this->database->fetchFirstColumn('SELECT words FROM trail t JOIN incident i ON i.id = t.incident_id WHERE i.service = ?', [
                    $this->service,
                ]),
            ),
        );
    }

    /** An address that is none, and a transition that cannot be read: each is set aside with its reason, and whoever else is told is told. */
    public function testWhatCannotBeHandledIsSetAsideAndAllElseGoesOn(): void
    {
        $rule = $this->rule('Set aside', 'minor');
        $mark = bin2hex(random_bytes(4));
        $this->database->insert('person', ['name' => "Nobody {$mark}", 'email' => "no address {$mark}", 'role' => 'engineer', 'password_hash' => '']);
        $nobody = (int) $this->database->lastInsertId();
        $ines = (int) $this->database->fetchOne("SELECT id FROM person WHERE email = 'ines@saltmarsh.example'");
        $now = (int) (microtime(true) * 1000);
        $this->database->insert('transition', [
            'rule_id' => $rule,
            'labels_hash' => $mark,
            'labels' => '{"broker": 7',
            'at' => $now,
            'from_phase' => 'building',
            'to_phase' => 'raised',
            'severity' => 'minor',
            'value' => 500,
            'onset_at' => $now,
            'taken' => 0,
        ]);
        $this->happens($rule, 'boarding', 'building', 'raised', 'minor', 500);
        try {
            Instance::eventually(fn(): bool => str_starts_with($this->title(), 'Set aside'), 20, 'the one behind it became an incident');
            $incident = (int) $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
            foreach ([$nobody, $ines] as $person) {
                $this->plan($incident, 'raised', $person, "{$mark}.{$person}");
            }
            $status = fn(int $person): string => (string) $this->database->fetchOne('SELECT status FROM delivery WHERE message_key = ?', [
                "{$mark}.{$person}",
            ]);
            Instance::eventually(
                static fn(): bool => $status($ines) === 'sent' && $status($nobody) === 'failed',
                20,
                'one is told, the other cannot be',
            );
            $aside = array_column($this->engineer->send('GET', '/api/watch')[1]['aside'], 'reason', 'subject');
            $subjects = implode("\n", array_keys($aside));
            self::assertStringContainsString("Nobody {$mark}", $subjects);
            self::assertStringContainsString('transition', $subjects);
            $figures = (string) file_get_contents(Instance::web() . '/api/own-metrics');
            self::assertStringContainsString('olivine_items_set_aside{part="dispatcher"} 1', $figures);
            self::assertStringContainsString('olivine_items_set_aside{part="mail"} 1', $figures);
            $nobodys = current(array_filter(array_keys($aside), static fn(string $one): bool => str_contains($one, "Nobody {$mark}")));
            $see = static fn(string $who): int => (new Client($who))->send('POST', '/api/set-aside/seen', [
                'part' => 'mail',
                'subject' => $nobodys,
            ])[0];
            self::assertSame(
                [403, 204, 404],
                [$see('viewer@saltmarsh.example'), $see('ines@saltmarsh.example'), $see('ines@saltmarsh.example')],
                'whoever may act takes it off Watch, once',
            );
            Instance::eventually(
                fn(): bool => !in_array($nobodys, array_column($this->engineer->send('GET', '/api/watch')[1]['aside'], 'subject'), true),
                10,
                'it is off Watch',
            );
            self::assertStringContainsString(
                'cannot be sent',
                implode("\n", $this->database->fetchFirstColumn('SELECT words FROM trail WHERE incident_id = ?', [$incident])),
            );
        } finally {
            $this->database->executeStatement('DELETE FROM set_aside');
            $this->database->delete('person', ['id' => $nobody]);
        }
    }

    /** What never came back ends as lost from sight: told as such to whoever was told, and not as recovery. */
    public function testAnAlertThatLosesItsReadingsForGoodIsToldAsLost(): void
    {
        $rule = $this->rule('Sight', 'minor');
        $this->happens($rule, 'boarding', 'building', 'raised', 'minor', 500);
        $delivered = fn(string $kind): int => (int) $this->database->fetchOne(
            "SELECT COUNT(*) FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.service = ? AND d.kind = ? AND d.status = 'sent'",
            [$this->service, $kind],
        );
        Instance::eventually(static fn(): bool => $delivered('raised') === 1, 40, 'it is told');
        $this->happens($rule, 'boarding', 'raised', 'lost', 'minor', 500);
        Instance::eventually(static fn(): bool => $delivered('lost') === 1, 40, 'so is that it was lost');
        self::assertSame(0, $delivered('recovered'));
        $incident = (int) $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        $detail = $this->engineer->send('GET', "/api/incidents/{$incident}")[1];
        self::assertSame(['resolved', 'lost'], [$detail['status'], $detail['alerts'][0]['end']]);
        self::assertStringContainsString('lost from sight', implode("\n", array_column($detail['trail'], 'words')));
        $letter = current(
            array_filter(Instance::letters(), static fn(array $one): bool => str_contains($one['messageId'], "incident-{$incident}.lost")),
        );
        self::assertIsArray($letter);
        self::assertStringNotContainsString('is over', $letter['subject']);
    }

    /** What was decided is asked again when it leaves: of what somebody took meanwhile, or what is over, nobody hears as though it were not. */
    public function testWhatIsSentIsDecidedWhenItLeaves(): void
    {
        $rule = $this->rule('Leaves', 'minor');
        $this->happens($rule, 'boarding', 'building', 'raised', 'minor', 500);
        $sent = fn(string $kind): array => array_map(intval(...), $this->database->fetchFirstColumn(
            "SELECT d.person_id FROM delivery d JOIN incident i ON i.id = d.incident_id
             WHERE i.service = ? AND d.kind = ? AND d.status = 'sent' ORDER BY d.person_id",
            [$this->service, $kind],
        ));
        Instance::eventually(static fn(): bool => count($sent('raised')) === 1, 40, 'it is told');
        $onCall = $sent('raised')[0];
        $incident = (int) $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        $admin = (int) $this->database->fetchOne("SELECT id FROM person WHERE email = 'admin@saltmarsh.example'");
        (new Client('admin@saltmarsh.example'))->send('POST', "/api/incidents/{$incident}/acknowledge", []);
        $becomes = function (string $kind, string $status) use ($incident, $admin): void {
            $key = bin2hex(random_bytes(6));
            $this->plan($incident, $kind, $admin, $key);
            $is = fn(): string => (string) $this->database->fetchOne('SELECT status FROM delivery WHERE message_key = ?', [$key]);
            Instance::eventually(static fn(): bool => $is() === $status, 20, "{$kind} is {$status}");
        };
        $becomes('raised', 'dropped');
        $becomes('recovered', 'dropped');
        $becomes('worse', 'sent');

        $this->happens($rule, 'boarding', 'raised', 'calm', 'minor', 200);
        $both = [$onCall, $admin];
        sort($both);
        $know = array_values(array_unique($both));
        Instance::eventually(static fn(): bool => $sent('recovered') === $know, 40, 'whoever was told and whoever took it hear of the end');
        $this->database->executeStatement('DELETE FROM delivery WHERE incident_id = ? AND round = 90', [$incident]);
        $becomes('raised', 'dropped');
        $becomes('worse', 'dropped');
        $trail = implode("\n", array_column($this->engineer->send('GET', "/api/incidents/{$incident}")[1]['trail'], 'words'));
        self::assertStringContainsString('Anselm Okoye is not told: somebody had it in hand before this was sent', $trail);
        self::assertStringContainsString('Anselm Okoye is not told: the incident was over before this was sent', $trail);
        self::assertStringContainsString('Anselm Okoye is not told: it came up again before this was sent', $trail);
    }

    /** Whoever is woken reads what to do about each of them; of many alerts the gravest, and how many more there are. */
    public function testAMessageSaysWhatToDoAboutEachAndHowManyMoreThereAre(): void
    {
        $beside = static fn(string $at): array => ['runbook' => "https://runbooks.example/{$at}", 'words' => ['major' => "Lorries wait {$at}."]];
        $pier = $this->rule('Pier queue', 'major', $beside('at-the-pier'));
        $gate = $this->rule('Gate queue', 'minor', ['runbook' => 'Ring the gate']);
        $this->happens($pier, 'boarding', 'building', 'raised', 'major', 900);
        for ($i = 0; $i < 25; ++$i) {
            $this->happens($gate, "gate-{$i}", 'building', 'raised', 'minor', 500);
        }
        $letter = null;
        Instance::eventually(
            function () use (&$letter): bool {
                $incident = (int) $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
                $own = array_filter(Instance::letters(), static fn(array $one): bool => str_contains($one['messageId'], "incident-{$incident}.raised"));
                $letter = current($own);

                return $letter !== false;
            },
            40,
            'it is told',
        );
        self::assertIsArray($letter);
        self::assertStringContainsString('Pier queue on broker-test (boarding): no reading now, 900 when raised, limit above 400', $letter['subject']);
        $parts = array_map(quoted_printable_decode(...), preg_split('~^--~m', (string) base64_decode($letter['data'], true)) ?: []);
        $saying = static fn(string $words): array => array_filter($parts, static fn(string $part): bool => str_contains($part, $words));
        foreach (['https://runbooks.example/at-the-pier', 'Ring the gate', 'Lorries wait at-the-pier.', 'and 6 more', 'gate-'] as $words) {
            self::assertGreaterThanOrEqual(2, count($saying($words)), "{$words} in the text and in its HTML");
        }
    }

    /** Of the transitions that are written down a replay decides what live decided: the same incident, the same words, the same messages. */
    public function testAReplayDecidesWhatLiveDecided(): void
    {
        $names = ['minor' => 'Disk fills', 'critical' => 'Boarding stands still'];
        $rules = array_map(fn(string $severity): int => $this->rule($names[$severity], $severity), ['minor' => 'minor', 'critical' => 'critical']);
        $told = fn(string $kind): int => (int) $this->database->fetchOne(
            "SELECT COUNT(*) FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.service = ? AND d.kind = ? AND d.status = 'sent'",
            [$this->service, $kind],
        );
        $this->happens($rules['minor'], 'boarding', 'building', 'raised', 'minor', 500);
        Instance::eventually(static fn(): bool => $told('raised') === 1, 40, 'it is told');
        $this->happens($rules['critical'], 'boarding', 'building', 'raised', 'critical', 900);
        $this->happens($rules['minor'], 'tickets', 'building', 'raised', 'minor', 450);
        $this->happens($rules['minor'], 'boarding', 'raised', 'easing', 'minor', 200);
        $this->happens($rules['minor'], 'boarding', 'easing', 'raised', 'minor', 600);
        Instance::eventually(static fn(): bool => $told('worse') === 1, 40, 'that it is worse, too');
        $this->happens($rules['critical'], 'boarding', 'raised', 'calm', 'critical', 100);
        $this->happens($rules['minor'], 'tickets', 'raised', 'lost', 'minor', 450);
        $this->happens($rules['minor'], 'boarding', 'raised', 'calm', 'minor', 100);
        Instance::eventually(static fn(): bool => $told('lost') === 1, 40, 'and how it ended');

        $ladder = Ladder::ofTheRota(Duration::ofMinutes(15));
        $replay = new CourseReplay(new Configuration(
            [new Path('everything else', null, null, ['service'], Gather::lasting(Duration::ofSeconds(2)), $ladder)],
            PlainRosters::turns([1, 2], '2026-01-05', 'Europe/Lisbon'),
        ));
        $bys = array_map(fn(int $id): RaisedBy => $this->by($id), $rules);
        $up = [];
        $transitions = $this->database->fetchAllAssociative(
            'SELECT * FROM transition WHERE rule_id IN (?, ?) ORDER BY at, id',
            array_values($rules),
        );
        foreach ($transitions as $row) {
            $happened = self::stored($row);
            $by = $bys[$happened->ruleId === $rules['minor'] ? 'minor' : 'critical'];
            $key = "{$happened->ruleId} {$happened->labelsHash}";
            $event = match (true) {
                AlertEvents::raises($happened) && !isset($up[$key]) => AlertEvents::raised($happened, $by),
                $happened->to === Phase::Calm || $happened->to->isOver() => AlertEvents::ended($happened, $by),
                default => AlertEvents::turned($happened, $by, Severity::from($row['severity'])),
            };
            $up[$key] = true;
            $replay->happens($event, $happened->at);
        }
        self::assertCount(1, $replay->courses());
        $words = $messages = [];
        foreach ($replay->courses()[0]->decisions as [, $decision]) {
            if ($decision instanceof Line) {
                $words[] = "{$decision->at->ms} {$decision->words}";
            } elseif ($decision instanceof Tell) {
                $messages[] = "{$decision->kind->value} {$decision->round} {$decision->dueAt->ms}";
            }
        }
        $incident = (int) $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        $live = $this->database->fetchFirstColumn("SELECT CONCAT(at, ' ', words) FROM trail WHERE incident_id = ? AND kind IN ('alert', 'held back')", [
            $incident,
        ]);
        // Which row of which revision it was, only live knows here.
        $plain = static fn(mixed $one): string => (string) preg_replace('~ \(row \d+ of revision \d+\)~', '', (string) $one);
        self::assertEqualsCanonicalizing(array_map($plain, $live), $words);
        $sent = $this->database->fetchFirstColumn("SELECT CONCAT(kind, ' ', round, ' ', due_at) FROM delivery WHERE incident_id = ?", [$incident]);
        self::assertEqualsCanonicalizing($sent, $messages);
    }

    /** A rung whose message was withdrawn, as somebody had it in hand just then, is climbed when nobody has it any more: once, under its key. */
    public function testWhatWasWithdrawnIsToldWhenItIsHandedBack(): void
    {
        $rule = $this->rule('Withdrawn', 'minor');
        $this->happens($rule, 'boarding', 'building', 'raised', 'minor', 500);
        $row = fn(): array => $this->database->fetchAllAssociative(
            "SELECT d.* FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.service = ? AND d.kind = 'raised'",
            [$this->service],
        );
        Instance::eventually(static fn(): bool => array_column($row(), 'status') === ['sent'], 40, 'it is told');
        $before = $row()[0];
        $this->engineer->send('POST', "/api/incidents/{$before['incident_id']}/acknowledge", []);
        // As though its mail server had been away until somebody took the incident.
        $this->database->executeStatement("UPDATE delivery SET status = 'planned', sent_at = NULL, next_at = 0, attempts = 0 WHERE id = ?", [$before['id']]);
        Instance::eventually(static fn(): bool => array_column($row(), 'status') === ['dropped'], 20, 'it is told no more');
        sleep(1);
        self::assertContains('dropped', array_column($row(), 'status'), 'and stays so while somebody has it');
        self::assertSame(200, $this->engineer->send('POST', "/api/incidents/{$before['incident_id']}/hand-back", [])[0]);
        Instance::eventually(static fn(): bool => array_column($row(), 'status') === ['sent'], 20, 'it is told after all');
        self::assertSame($before['message_key'], $row()[0]['message_key']);
    }

    /** Taken for two hours, and not over then: nobody has it any more, and who is on call is told anew. */
    public function testWhatWasTakenForATimeClimbsAnewWhenThatIsOver(): void
    {
        $rule = $this->rule('For a time', 'minor');
        $this->happens($rule, 'boarding', 'building', 'raised', 'minor', 500);
        $rounds = fn(): array => $this->database->fetchFirstColumn(
            "SELECT d.round FROM delivery d JOIN incident i ON i.id = d.incident_id
             WHERE i.service = ? AND d.kind = 'raised' AND d.status = 'sent' ORDER BY d.id",
            [$this->service],
        );
        Instance::eventually(static fn(): bool => $rounds() === [1], 40, 'it is told');
        $incident = (int) $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        $take = fn(mixed $for): array => $this->engineer->send('POST', "/api/incidents/{$incident}/acknowledge", [
            'forSeconds' => $for,
            'note' => 'The pump first',
        ]);
        self::assertSame([422, 'forSeconds must be a whole number from 300 to 604800'], [$take(10)[0], $take('2h')[1]['title']]);
        [$status, $taken, $text] = $take(7_200);
        self::assertSame(200, $status, $text);
        self::assertEqualsWithDelta(microtime(true) * 1000 + 7_200_000, $taken['heldUntil'], 60_000);
        self::assertSame([1, $taken['heldUntil']], [$taken['next']['rung'], $taken['next']['at']], 'it says whom it calls then');
        $this->database->executeStatement('UPDATE incident SET held_until = 1 WHERE id = ?', [$incident]);
        Instance::eventually(static fn(): bool => $rounds() === [1, 101], 40, 'it is told anew');
        [, $after] = $this->engineer->send('GET', "/api/incidents/{$incident}");
        self::assertSame(['open', null, null], [$after['status'], $after['acknowledgedBy'], $after['heldUntil']]);
        $words = implode("\n", array_column($after['trail'], 'words'));
        self::assertStringContainsString('Ines Duarte acknowledged for 2 h, ', $words);
        self::assertStringContainsString('Ines Duarte: The pump first', $words);
        self::assertStringContainsString('is over, and it is not: the ladder begins anew', $words);
        self::assertMatchesRegularExpression('~rung 1, once more: e-mail to .*, taken over there in~', $words);

        // From the page behind the link in a mail, without signing in.
        $token = bin2hex(random_bytes(16));
        $inAnHour = (int) (microtime(true) * 1000) + 3_600_000;
        $person = (int) $this->database->fetchOne("SELECT id FROM person WHERE email = 'tomasz@saltmarsh.example'");
        $this->database->insert('act_token', [
            'token_hash' => hash('sha256', $token),
            'incident_id' => $incident,
            'person_id' => $person,
            'ends_at' => $inAnHour,
        ]);
        $page = HttpClient::create()->request('POST', Instance::web() . "/act/{$token}", ['body' => ['for' => '480']])->getContent();
        self::assertMatchesRegularExpression('~Tomasz Reyes has it until \d\d:\d\d\.~', $page);
        [, $held] = $this->engineer->send('GET', "/api/incidents/{$incident}");
        self::assertEqualsWithDelta(microtime(true) * 1000 + 28_800_000, $held['heldUntil'], 60_000);

        $ines = bin2hex(random_bytes(16));
        $this->database->executeStatement(
            "INSERT INTO act_token (token_hash, incident_id, person_id, ends_at) SELECT ?, ?, id, ? FROM person WHERE email = 'ines@saltmarsh.example'",
            [hash('sha256', $ines), $incident, $inAnHour],
        );
        $answer = static fn(string $token, array $body): string => strip_tags(
            HttpClient::create()->request('POST', Instance::web() . "/act/{$token}", ['body' => $body])->getContent(),
        );
        self::assertStringContainsString('There is nothing written yet.', $answer($ines, ['answer' => 'note', 'note' => '  ']));
        self::assertStringContainsString('Noted.', $answer($ines, ['answer' => 'note', 'note' => "the pump\nis off"]));
        self::assertMatchesRegularExpression('~It is yours\..*Ines Duarte has it\.~s', $answer($ines, ['answer' => 'take']));
        self::assertStringContainsString('Say whose it is from now on.', $answer($ines, ['answer' => 'hand over', 'to' => '0']));
        $given = $answer($ines, ['answer' => 'hand over', 'to' => (string) $person]);
        self::assertMatchesRegularExpression('~It is Tomasz Reyes.{1,8}s, who is told\..*Tomasz Reyes has it\.~s', $given);
        $answer($ines, ['answer' => 'take']);
        self::assertStringContainsString('Noted: you cannot see to it.', $answer($ines, ['answer' => 'cannot']));
        [, $after] = $this->engineer->send('GET', "/api/incidents/{$incident}");
        self::assertSame('open', $after['status']);
        $words = implode("\n", array_column($after['trail'], 'words'));
        self::assertStringContainsString('Ines Duarte: the pump is off (from the message)', $words);
        self::assertStringContainsString('Ines Duarte cannot from the message', $words);
        $this->engineer->send('POST', "/api/incidents/{$incident}/resolve", []);
        self::assertMatchesRegularExpression('~is over already\..*It is resolved~s', $answer($ines, ['answer' => 'cannot']));
    }

    /** By all of the words, wherever they stand; a page at a time; what a pattern would mean is meant as it is written. */
    public function testWhatWasIsFoundByItsWords(): void
    {
        $made = [];
        foreach ([['Gate 100% shut', 'minor'], ['Gate 1000 shut', 'major'], ['Lock_7 is open', 'minor']] as $i => [$title, $severity]) {
            $this->database->insert('incident', [
                'service' => $this->service,
                'title' => $title,
                'severity' => $severity,
                'status' => 'resolved',
                'opened_at' => 1_000 + intdiv($i, 2),
                'resolved_at' => 2_000,
                'replayed' => 1,
            ]);
            $made[] = (int) $this->database->lastInsertId();
        }
        $found = fn(string $words, string $more = ''): array => array_column(
            $this->engineer->send('GET', '/api/incidents?words=' . rawurlencode("{$this->service} {$words}") . $more)[1]['incidents'],
            'id',
        );
        [$percent, $thousand, $lock] = $made;
        self::assertSame([$lock, $thousand, $percent], $found(''));
        self::assertSame([$thousand, $percent], $found('shut GATE'));
        self::assertSame([$percent], $found('100%'));
        self::assertSame([$lock], $found('lock_'));
        self::assertSame([], $found('gate open'));
        self::assertSame([$thousand], $found('', '&severity=major'));
        self::assertSame([$percent], $found('', "&before={$thousand}"), 'of two that opened at once, the older one');
        self::assertContains($lock, array_column($this->engineer->send('GET', "/api/incidents?words={$lock}")[1]['incidents'], 'id'));
    }

    /** What waits for another try waits no longer when another mail server is set. */
    public function testAnotherMailServerIsUsedAtOnce(): void
    {
        $rule = $this->rule('Another server', 'minor');
        $this->happens($rule, 'boarding', 'building', 'raised', 'minor', 500);
        $status = fn(): array => $this->database->fetchFirstColumn(
            "SELECT d.status FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.service = ? AND d.kind = 'raised'",
            [$this->service],
        );
        Instance::eventually(static fn(): bool => $status() === ['sent'], 40, 'it is told');
        $inAnHour = (int) (microtime(true) * 1000) + 3_600_000;
        $this->database->executeStatement(
            "UPDATE delivery d JOIN incident i ON i.id = d.incident_id SET d.status = 'planned', d.sent_at = NULL, d.attempts = 9, d.next_at = ?
             WHERE i.service = ?",
            [$inAnHour, $this->service],
        );
        $admin = new Client('admin@saltmarsh.example');
        $before = $admin->send('GET', '/api/settings')[1]['mailServer'];
        sleep(2);
        self::assertContains('planned', $status(), 'it waits out its pause');
        try {
            $other = ['host' => 'localhost'] + (array) $before;
            [$code, , $text] = $admin->change('/api/settings', ['mailServer' => $other]);
            self::assertSame(200, $code, $text);
            Instance::eventually(static fn(): bool => $status() === ['sent'], 30, 'it is sent at once');
        } finally {
            self::assertSame(200, $admin->change('/api/settings', ['mailServer' => $before])[0]);
        }
    }

    private function by(int $id): RaisedBy
    {
        $rule = $this->engineer->send('GET', "/api/rules/{$id}")[1];
        $limits = array_values(array_map(
            static fn(array $one): LimitFields => new LimitFields(Severity::from($one['severity']), (float) $one['limit']),
            $rule['definition']['condition']['limits'],
        ));
        $definition = new RuleDefinition(
            name: $rule['definition']['name'],
            formula: $rule['definition']['formula'],
            condition: new ThresholdFields(Side::Above, $limits, (float) $rule['definition']['condition']['clear']),
            holdSeconds: $rule['definition']['holdSeconds'],
            clearHoldSeconds: $rule['definition']['clearHoldSeconds'],
            service: $rule['definition']['service'],
        );

        return new RaisedBy(1, $definition, $definition->core(), $rule['unit']);
    }

    /** @param array<string, mixed> $row */
    private static function stored(array $row): StoredTransition
    {
        return new StoredTransition(
            id: (int) $row['id'],
            ruleId: (int) $row['rule_id'],
            revisionId: 1,
            labelsHash: $row['labels_hash'],
            labels: LabelSet::of(json_decode($row['labels'], true, 4, JSON_THROW_ON_ERROR)),
            at: Instant::ofMs((int) $row['at']),
            from: Phase::from($row['from_phase']),
            to: Phase::from($row['to_phase']),
            severity: Severity::tryFrom((string) $row['severity']),
            value: (float) $row['value'],
            numbers: [],
            onset: Instant::ofMs((int) $row['onset_at']),
            why: '',
        );
    }

    private function plan(int $incident, string $kind, int $person, string $key): void
    {
        $now = (int) (microtime(true) * 1000);
        $this->database->insert('delivery', [
            'incident_id' => $incident,
            'kind' => $kind,
            'round' => 90,
            'person_id' => $person,
            'channel' => 'e-mail',
            'due_at' => $now,
            'status' => 'planned',
            'attempts' => 0,
            'next_at' => $now,
            'answer' => '',
            'message_key' => $key,
        ]);
    }

    private function title(): string
    {
        return (string) $this->database->fetchOne('SELECT title FROM incident WHERE service = ? ORDER BY id DESC LIMIT 1', [$this->service]);
    }
}

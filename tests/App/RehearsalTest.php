<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Demo\DemoChannels;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

/** An alert is played with people who agreed: the real ladder and channels, told to nobody else, and counted nowhere. */
final class RehearsalTest extends TestCase
{
    use MadeUpAlerts {
        tearDown as letGo;
    }

    private const PHONE = 8;

    /** @var \Closure(): void */
    private \Closure $letOthers;
    private int $before = 0;

    protected function assertPreConditions(): void
    {
        $this->letOthers = Instance::alone('plan');
        $this->before = $this->engineer->send('GET', '/api/plan')[1]['inService']['number'];
        $this->engineer->send('DELETE', '/api/plan/draft', []);
        $person = static fn(string $name): array => [['listener' => 'person', 'name' => "{$name}@saltmarsh.example"]];
        $rungs = [
            ['who' => $person('tomasz'), 'by' => ['e-mail'], 'afterSeconds' => 900],
            ['who' => $person('ines'), 'by' => [DemoChannels::SMS, 'e-mail'], 'afterSeconds' => 4],
            ['who' => $person('sunniva'), 'by' => [DemoChannels::SMS], 'afterSeconds' => 900],
        ];
        $this->engineer->send('POST', '/api/plan/draft/ladders', ['definition' => ['name' => 'played', 'rungs' => $rungs, 'times' => 2]]);
        $path = [
            'name' => 'played', 'ladder' => 'played', 'for' => "service = \"{$this->service}\"", 'per' => ['service'], 'gatherSeconds' => 600,
        ];
        [$status, $page, $text] = $this->engineer->send('POST', '/api/plan/draft/paths', ['definition' => $path]);
        self::assertSame(201, $status, $text);
        self::assertSame(200, $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version']])[0]);
    }

    protected function tearDown(): void
    {
        $this->engineer->send('DELETE', '/api/plan/draft', []);
        $page = $this->engineer->send('POST', '/api/plan/draft', ['revision' => $this->before])[1];
        $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version'], 'reason' => 'as it was']);
        ($this->letOthers)();
        $this->letGo();
    }

    public function testFromTheRuleToTheRecovery(): void
    {
        $rule = $this->rule('Played queue', 'critical');
        $labels = ['broker' => 'broker-test', 'queue' => 'q'];
        $asked = ['rule' => $rule, 'labels' => $labels, 'severity' => 'critical', 'people' => [$this->person('ines'), $this->person('sunniva')]];
        self::assertSame(403, (new Client('viewer@saltmarsh.example'))->send('POST', '/api/rehearsals', $asked)[0]);
        [$status, $made, $text] = $this->engineer->send('POST', '/api/rehearsals', $asked);
        self::assertSame(201, $status, $text);
        self::assertSame([[true, true], [false, false]], array_map(static fn(array $one): array => [$one['agreed'], $one['self']], $made['people']));
        $isAsked = static fn(array $one): bool => str_starts_with($one['subject'], 'Ines Duarte asks you to a rehearsal')
            && str_contains(json_encode($one['to'], JSON_THROW_ON_ERROR), 'sunniva');
        Instance::eventually(static fn(): bool => array_any(Instance::letters(), $isAsked), 40, 'Sunniva is asked');
        $url = "/api/rehearsals/{$made['id']}";
        self::assertSame(403, (new Client('oyelaran@saltmarsh.example'))->send('POST', "{$url}/agree", [])[0], 'nobody asked him');

        // Sunniva has not agreed: she is not told, nor is Tomasz, whose rung comes first.
        self::assertSame(200, $this->engineer->send('POST', "{$url}/begin", [])[0]);
        $rehearsal = fn(): array => array_column($this->engineer->send('GET', '/api/rehearsals')[1]['rehearsals'], null, 'id')[$made['id']];
        $incident = $rehearsal()['incident'];
        $ofIt = fn(): array => $this->database->fetchAllAssociative('SELECT * FROM delivery WHERE incident_id = ? ORDER BY id', [$incident]);
        $sent = static fn(string $kind): array => array_values(array_filter(
            $ofIt(),
            static fn(array $one): bool => $one['status'] === 'sent' && $one['kind'] === $kind,
        ));
        Instance::eventually(static fn(): bool => count($sent('raised')) === 2, 60, 'SMS and mail are taken');
        self::assertSame([$this->person('ines')], array_values(array_unique(array_column($ofIt(), 'person_id'))));
        $trail = fn(): string => implode("\n", array_column($this->engineer->send('GET', "/api/incidents/{$incident}")[1]['trail'], 'words'));
        self::assertStringContainsString('rung 1 reaches nobody: person tomasz@saltmarsh.example is nobody who agreed to be told', $trail());

        // In earnest the same alert is another incident.
        $this->happens($rule, 'q', 'building', 'raised', 'critical', 500);
        $earnest = fn(): int => (int) $this->database->fetchOne(
            'SELECT COUNT(*) FROM incident WHERE service = ? AND rehearsed_with IS NULL AND id <> ?',
            [$this->service, $incident],
        );
        Instance::eventually(static fn(): bool => $earnest() === 1, 40, 'it opens one of its own');

        $key = $sent('raised')[0]['message_key'];
        $told = array_find(Instance::told(self::PHONE), static fn(array $one): bool => $one['message']['id'] === $key) ?? [];
        self::assertStringStartsWith('[rehearsal] [critical] Played queue on broker-test', $told['message']['text']);
        Instance::press(self::PHONE, '/answer', ['id' => DemoChannels::SMS . " {$key}", 'text' => 'ok ' . substr($told['message']['text'], -34, 3)]);
        Instance::eventually(static fn(): bool => $rehearsal()['endedAt'] !== null, 60, 'it is answered, so it is over');
        Instance::eventually(static fn(): bool => count($sent('recovered')) === 1, 60, 'and that is told too, as she wishes it');
        $shown = $rehearsal();
        self::assertMatchesRegularExpression('~^Ines Duarte answered after \d~', $shown['words']);
        $steps = array_column($shown['steps'], 'words');
        self::assertSame('it began', $steps[0]);
        self::assertContains('rung 2: ' . DemoChannels::SMS . ' to Ines Duarte, taken over there', $steps);
        self::assertContains('recovery: e-mail to Ines Duarte, taken over there', $steps);
        $took = array_filter($shown['steps'], static fn(array $one): bool => str_contains($one['words'], 'taken over there'));
        self::assertCount(3, array_filter($took, static fn(array $one): bool => is_int($one['tookMs']) && $one['tookMs'] < 60_000));
        self::assertStringContainsString('the rehearsal is over: answered', $trail());
        $this->isCountedNowhere($incident, $rule);
    }

    /** Nobody answers the first rung, so the second one rings; its answer by SMS ends it. */
    public function testTwoRungsAreClimbedAndAcknowledgedByShortMessage(): void
    {
        $rule = $this->rule('Played queue', 'critical');
        $people = [$this->person('ines'), $this->person('sunniva')];
        $asked = ['rule' => $rule, 'labels' => ['queue' => 'q'], 'severity' => 'critical', 'people' => $people];
        $made = $this->engineer->send('POST', '/api/rehearsals', $asked)[1];
        self::assertSame(200, (new Client('sunniva@saltmarsh.example'))->send('POST', "/api/rehearsals/{$made['id']}/agree", [])[0]);
        self::assertSame(200, $this->engineer->send('POST', "/api/rehearsals/{$made['id']}/begin", [])[0]);
        $rehearsal = fn(): array => array_column($this->engineer->send('GET', '/api/rehearsals')[1]['rehearsals'], null, 'id')[$made['id']];
        $rungs = fn(): array => $this->database->fetchAllAssociative(
            "SELECT round, person_id, message_key, due_at FROM delivery
             WHERE incident_id = ? AND kind = 'raised' AND channel = ? AND status = 'sent' ORDER BY round",
            [$rehearsal()['incident'], DemoChannels::SMS],
        );
        Instance::eventually(static fn(): bool => count($rungs()) === 2, 60, 'both rungs ring');
        self::assertSame($people, array_column($rungs(), 'person_id'));
        self::assertGreaterThanOrEqual(3_000, $rungs()[1]['due_at'] - $rungs()[0]['due_at'], 'one after the other');
        Instance::press(self::PHONE, '/answer', ['id' => DemoChannels::SMS . " {$rungs()[1]['message_key']}", 'text' => 'ok']);
        Instance::eventually(static fn(): bool => $rehearsal()['endedAt'] !== null, 60, 'it is over');
        self::assertStringStartsWith('Sunniva Patel answered after', $rehearsal()['words']);
    }

    public function testWhatCannotBeRehearsedIsSaid(): void
    {
        $rule = $this->rule('Played queue', 'critical');
        $asked = ['rule' => $rule, 'labels' => ['queue' => 'q'], 'severity' => 'critical', 'people' => [$this->person('ines')]];
        foreach (
            [
                [['rule' => 999_999_999] + $asked, 'rule', 'there is no rule 999999999'],
                [['people' => []] + $asked, 'people', 'people must be a list of 1 to 50 ids'],
                [['people' => [999_999]] + $asked, 'people', 'there is nobody with the number 999999'],
                [['people' => [$this->person('viewer')]] + $asked, 'people', 'may not answer incidents'],
                [['severity' => 'red'] + $asked, 'severity', 'severity'],
                [['labels' => ['queue' => 7]] + $asked, 'labels', 'labels must be an object of texts'],
            ] as [$body, $field, $words]
        ) {
            [$status, $problem, $text] = $this->engineer->send('POST', '/api/rehearsals', $body);
            self::assertSame([422, $field], [$status, $problem['field'] ?? null], $text);
            self::assertStringContainsString($words, $problem['title']);
        }
        $others = ['people' => [$this->person('oyelaran')]] + $asked;
        $made = $this->engineer->send('POST', '/api/rehearsals', $others)[1];
        [$status, $problem] = $this->engineer->send('POST', "/api/rehearsals/{$made['id']}/begin", []);
        self::assertSame([409, 'Nobody who agreed is on the ladder of played now; ask one of those whom it would tell'], [$status, $problem['title']]);
        self::assertSame(200, $this->engineer->send('POST', "/api/rehearsals/{$made['id']}/end", [])[0]);
        self::assertSame(409, (new Client('oyelaran@saltmarsh.example'))->send('POST', "/api/rehearsals/{$made['id']}/agree", [])[0], 'it was called off');
        self::assertSame(409, $this->engineer->send('POST', "/api/rehearsals/{$made['id']}/end", [])[0]);
        self::assertSame(404, $this->engineer->send('POST', '/api/rehearsals/999999/begin', [])[0]);

        // Who agreed did so for a day.
        $made = $this->engineer->send('POST', '/api/rehearsals', $asked)[1];
        $this->database->executeStatement('UPDATE rehearsal SET asked_at = asked_at - 90000000 WHERE id = ?', [$made['id']]);
        $how = fn(): mixed => $this->database->fetchOne('SELECT ended_how FROM rehearsal WHERE id = ?', [$made['id']]);
        Instance::eventually(static fn(): bool => $how() === 'nobody began it within a day', 40, 'it is over');
        self::assertSame(409, $this->engineer->send('POST', "/api/rehearsals/{$made['id']}/begin", [])[0]);
    }

    private function isCountedNowhere(int $incident, int $rule): void
    {
        $ids = static fn(array $rows): array => array_column($rows, 'id');
        $watch = $this->engineer->send('GET', '/api/watch')[1];
        self::assertNotContains($incident, $ids([...$watch['open'], ...$watch['past']]));
        $past = $this->engineer->send('GET', "/api/incidents?words={$this->service}")[1]['incidents'];
        self::assertCount(1, $past, 'the one in earnest');
        self::assertNotContains($incident, $ids($past));
        $opened = (new IncidentAlertRepository(Instance::managers()))->openedByRule(Instant::ofMs(0));
        self::assertSame(1, $opened[$rule] ?? 0, 'the one in earnest');
        self::assertSame(0, (int) $this->database->fetchOne('SELECT COUNT(*) FROM delivery WHERE incident_id = ? AND rehearsed = 0', [$incident]));
    }

    private function person(string $name): int
    {
        return (int) $this->database->fetchOne('SELECT id FROM person WHERE email = ?', ["{$name}@saltmarsh.example"]);
    }
}

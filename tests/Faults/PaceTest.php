<?php

declare(strict_types=1);

namespace Olivine\Tests\Faults;

use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use Olivine\Tests\App\MadeUpAlerts;
use PHPUnit\Framework\TestCase;

/** How soon people hear, at a pace and in a storm; figures are printed: `bin/olivine bench faults`. */
final class PaceTest extends TestCase
{
    use MadeUpAlerts {
        tearDown as letGo;
    }

    private const ALERTS = 1_000;
    private const STORM = 5_000;

    /** @var \Closure(): void */
    private \Closure $letOthers;
    private int $before = 0;

    protected function assertPreConditions(): void
    {
        $this->letOthers = Instance::alone('plan');
        $this->engineer->send('DELETE', '/api/plan/draft', []);
        $this->before = $this->engineer->send('GET', '/api/plan')[1]['inService']['number'];
        $ladder = ['name' => 'pace', 'rungs' => [['who' => [['listener' => 'person', 'name' => 'ines@saltmarsh.example']], 'by' => ['e-mail']]]];
        $this->engineer->send('POST', '/api/plan/draft/ladders', ['definition' => $ladder]);
        $path = ['ladder' => 'pace', 'gatherSeconds' => 0, 'for' => "owner = \"{$this->service}\""];
        $this->engineer->send('POST', '/api/plan/draft/paths', ['definition' => ['name' => 'pace', 'per' => ['queue']] + $path]);
        $page = $this->engineer->send('GET', '/api/plan')[1];
        self::assertSame(200, $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version']])[0]);
    }

    protected function tearDown(): void
    {
        foreach (['incident_alert', 'trail', 'delivery'] as $table) {
            $this->database->executeStatement("DELETE x FROM {$table} x JOIN incident i ON i.id = x.incident_id WHERE i.path = 'pace'");
        }
        $this->database->executeStatement("DELETE FROM incident WHERE path = 'pace'");
        $page = $this->engineer->send('POST', '/api/plan/draft', ['revision' => $this->before])[1];
        $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version']]);
        ($this->letOthers)();
        $this->letGo();
    }

    /** A thousand incidents, twenty a second: each message is at the mail server soon after its transition is committed, once. */
    public function testAThousandMessagesAtAPace(): void
    {
        $rule = $this->rule('Pace', 'major', ['owner' => $this->service]);
        $known = array_column(Instance::letters(), 'messageId');
        $began = microtime(true);
        for ($i = 0; $i < self::ALERTS; ++$i) {
            $this->happens($rule, "pace-{$i}", 'building', 'raised', 'major', 500);
            usleep((int) max(0, ($began + ($i + 1) / 20 - microtime(true)) * 1e6));
        }
        $sent = fn(): int => (int) $this->database->fetchOne(
            "SELECT COUNT(*) FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.path = 'pace' AND d.status = 'sent'",
        );
        Instance::eventually(static fn(): bool => $sent() === self::ALERTS, 60, 'all of them are out');
        $late = $this->database->fetchFirstColumn("SELECT d.sent_at - a.raised_at FROM delivery d JOIN incident i ON i.id = d.incident_id
            JOIN incident_alert a ON a.incident_id = i.id WHERE i.path = 'pace' AND d.status = 'sent' ORDER BY 1");
        $share = static fn(float $share): int => (int) $late[(int) floor($share * (count($late) - 1))];
        fwrite(STDERR, sprintf("\nsend.p50: %d ms\nsend.p99: %d ms\nsend.worst: %d ms\n", $share(0.5), $share(0.99), $share(1.0)));
        $new = array_filter(Instance::letters(), static fn(array $one): bool => !in_array($one['messageId'], $known, true));
        $arrivals = array_column(array_filter($new, static fn(array $one): bool => str_contains($one['subject'], 'Pace on broker-test')), 'arrivals');
        self::assertSame([1 => self::ALERTS], array_count_values($arrivals), 'each of them once');
        self::assertLessThan(4_000, $share(0.99), 'on a machine four times as slow');
    }

    /** Five thousand alerts of one group in a minute: one incident, one message, and all of it is through soon. */
    public function testAStormIsOneIncidentAndOneMessage(): void
    {
        $rule = $this->rule('Storm', 'major', ['owner' => $this->service]);
        $now = (int) (microtime(true) * 1000);
        $rows = [];
        for ($i = 0; $i < self::STORM; ++$i) {
            $labels = json_encode(['broker' => 'broker-test', 'queue' => 'storm', 'host' => "h{$i}"], JSON_THROW_ON_ERROR);
            array_push($rows, $rule, md5($labels), $labels, $now, 'building', 'raised', 'major', 500, $now - 60_000, 0);
        }
        $began = microtime(true);
        foreach (array_chunk($rows, 5_000) as $chunk) {
            $places = implode(', ', array_fill(0, intdiv(count($chunk), 10), '(?, ?, ?, ?, ?, ?, ?, ?, ?, ?)'));
            $this->database->executeStatement(
                "INSERT INTO transition (rule_id, labels_hash, labels, at, from_phase, to_phase, severity, value, onset_at, taken) VALUES {$places}",
                $chunk,
            );
        }
        $counts = fn(): array => $this->database->fetchNumeric("SELECT COUNT(DISTINCT i.id), COUNT(a.rule_id),
            (SELECT COUNT(*) FROM delivery d JOIN incident x ON x.id = d.incident_id WHERE x.path = 'pace')
            FROM incident i JOIN incident_alert a ON a.incident_id = i.id WHERE i.path = 'pace'") ?: [];
        Instance::eventually(static fn(): bool => $counts() === [1, self::STORM, 1], 60, 'one incident of all of them, and one message');
        fwrite(STDERR, sprintf("\nstorm.through: %.1f s\n", microtime(true) - $began));
    }

    /** A thousand incidents at once, ten messages a minute: all of them are told soon, in so few messages that somebody reads them. */
    public function testAStormOfIncidentsIsAFewMessages(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        $perMinute = static fn(int $most): int => $admin->send(
            'PUT',
            '/api/settings',
            ['mostAMinute' => $most, 'mailServer' => null] + $admin->send('GET', '/api/settings')[1],
        )[0];
        try {
            self::assertSame(200, $perMinute(10));
            sleep(2);
            $rule = $this->rule('Many storms', 'critical', ['owner' => $this->service]);
            $began = microtime(true);
            for ($i = 0; $i < self::ALERTS; ++$i) {
                $this->happens($rule, "many-{$i}", 'building', 'raised', 'critical', 500);
            }
            $sent = fn(): array => $this->database->fetchFirstColumn(
                "SELECT d.sent_at FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.path = 'pace' AND d.status = 'sent'",
            );
            Instance::eventually(static fn(): bool => count($sent()) === self::ALERTS, 120, 'all of them are told');
            $messages = count(array_unique($sent()));
            fwrite(STDERR, sprintf("\nstorms.through: %.1f s in %d messages\n", microtime(true) - $began, $messages));
            self::assertLessThanOrEqual(20, $messages);
        } finally {
            $perMinute(0);
        }
    }
}

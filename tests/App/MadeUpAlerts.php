<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;

/** Rules of a service of their own, and transitions of theirs as the evaluator would write them; all of it is gone afterwards. */
trait MadeUpAlerts
{
    private Connection $database;
    private Client $engineer;
    private string $service;

    protected function setUp(): void
    {
        $this->database = Instance::connect();
        $this->engineer = new Client('ines@saltmarsh.example');
        $this->service = 'test-' . bin2hex(random_bytes(4));
    }

    protected function tearDown(): void
    {
        foreach (['incident_alert', 'trail', 'delivery'] as $table) {
            $this->database->executeStatement("DELETE x FROM {$table} x JOIN incident i ON i.id = x.incident_id WHERE i.service = ?", [
                $this->service,
            ]);
        }
        $this->database->executeStatement("DELETE t FROM transition t JOIN rule_revision v ON v.rule_id = t.rule_id
             WHERE JSON_VALUE(v.definition, '$.service') = ?", [$this->service]);
        $this->database->executeStatement('DELETE FROM incident WHERE service = ?', [$this->service]);
        $this->database->executeStatement("DELETE r FROM rule r JOIN rule_revision v ON v.id = r.in_service_id
             WHERE JSON_VALUE(v.definition, '$.service') = ?", [$this->service]);
        // A test lives on until all are done; its connection need not.
        $this->database->close();
    }

    /** @param array<string, mixed> $beside */
    private function rule(string $name, string $severity, array $beside = []): int
    {
        [$status, $rule, $text] = $this->engineer->send(
            'POST',
            '/api/rules',
            PlainRule::of($beside + ['name' => $name, 'severity' => $severity, 'service' => $this->service, 'limit' => 400, 'clear' => 300]),
        );
        self::assertSame(201, $status, $text);

        return $rule['id'];
    }

    private function happens(int $rule, string $queue, string $from, string $to, string $severity, float $value): void
    {
        $labels = json_encode(['broker' => 'broker-test', 'queue' => $queue], JSON_THROW_ON_ERROR);
        $now = (int) (microtime(true) * 1000);
        $this->database->insert('transition', [
            'rule_id' => $rule,
            'labels_hash' => md5($labels),
            'labels' => $labels,
            'at' => $now,
            'from_phase' => $from,
            'to_phase' => $to,
            'severity' => $severity,
            'value' => $value,
            'onset_at' => $now - 60_000,
            'taken' => 0,
        ]);
    }
}

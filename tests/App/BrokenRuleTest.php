<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Filesystem\Filesystem;

/** Rules that cannot be evaluated, targets that rest or get another name: what the running evaluator and dispatcher make of them. */
final class BrokenRuleTest extends TestCase
{
    use WatchedParts;

    private const RULE = ['limit' => 1e9, 'service' => 'brokers', 'enabled' => true];
    /** Both sides have several queues of one broker. */
    private const AMBIGUOUS = 'messaging_queue_depth - messaging_queue_depth on broker';

    private Connection $database;
    private Client $client;

    protected function setUp(): void
    {
        $this->database = Instance::connect();
        $this->client = new Client('ines@saltmarsh.example');
    }

    /** It is said on Rules, on Watch, in the figures and by status; told after five minutes; and over when the rule is mended. */
    public function testARuleThatCannotBeEvaluatedIsSaidAndToldAndMended(): void
    {
        $name = 'Ambiguous ' . bin2hex(random_bytes(3));
        [$status, $rule, $text] = $this->client->send('POST', '/api/rules', PlainRule::of(['name' => $name, 'formula' => self::AMBIGUOUS] + self::RULE));
        self::assertSame(201, $status, $text);
        $row = fn(): array => array_column($this->client->send('GET', '/api/rules')[1], null, 'id')[$rule['id']];
        try {
            Instance::eventually(static fn(): bool => $row()['brokenSince'] !== null, 30, 'Rules says so');
            self::assertStringContainsString('Both sides have several series', $row()['fault']);
            self::assertContains($rule['id'], array_column($this->client->send('GET', '/api/watch')[1]['broken'], 'ruleId'));
            Instance::eventually(
                fn(): bool => (float) $this->database->fetchOne(
                    "SELECT JSON_VALUE(figures, '$.olivine_rules_broken') FROM part_status WHERE name = 'evaluator'",
                ) >= 1,
                30,
                'the figures say so',
            );
            $status = Instance::console('olivine:status');
            self::assertSame([1, true], [$status->getExitCode(), str_contains($status->getOutput(), $name)], $status->getOutput());
            $tries = (int) $this->database->fetchOne('SELECT tries FROM rule_problem WHERE rule_id = ?', [$rule['id']]);
            sleep(6);
            self::assertLessThanOrEqual(
                $tries + 4,
                (int) $this->database->fetchOne('SELECT tries FROM rule_problem WHERE rule_id = ?', [$rule['id']]),
                'it is asked again with growing pauses',
            );
            self::assertSame([], $this->incidentsOf($name), 'nobody is told at once');

            $this->database->executeStatement('UPDATE rule_problem SET since_at = since_at - 600000 WHERE rule_id = ?', [$rule['id']]);
            Instance::eventually(fn(): bool => count($this->incidentsOf($name)) === 1, 30, 'it is told');
            $incident = $this->incidentsOf($name)[0];
            self::assertSame(['olivine', 'open'], [$incident['service'], $incident['status']]);
            self::assertStringContainsString('Both sides have several series', $incident['first']['broken'] ?? '');

            self::assertSame(
                200,
                $this->client->change("/api/rules/{$rule['id']}", PlainRule::of(['name' => $name, 'formula' => 'messaging_queue_depth'] + self::RULE))[0],
            );
            Instance::eventually(static fn(): bool => $row()['brokenSince'] === null && $row()['fault'] === null, 90, 'it is mended');
            Instance::eventually(fn(): bool => $this->incidentsOf($name) === [], 30, 'and its incident is over');
            $alerts = fn(): int => (int) $this->database->fetchOne('SELECT COUNT(*) FROM alert WHERE rule_id = ?', [$rule['id']]);
            Instance::eventually(static fn(): bool => $alerts() > 0, 30, 'it judges again, when it has looked over its past');
        } finally {
            $this->database->executeStatement('UPDATE incident_alert SET cleared_at = 1 WHERE rule_id = ?', [$rule['id']]);
            $this->client->send('DELETE', "/api/rules/{$rule['id']}", []);
        }
    }

    /** @return iterable<string, array{string, string, array<string, mixed>}> what became of what is kept, what is said of it, what is left */
    public static function spoilt(): iterable
    {
        $left = static fn(string $service, int $holdSeconds, float $limit): array => [
            'service' => $service,
            'holdSeconds' => $holdSeconds,
            'limit' => $limit,
        ];
        $renamed = "JSON_INSERT(JSON_REMOVE(definition, '$.holdSeconds'), '$.hold', 5)";
        yield 'a field that was renamed' => [$renamed, 'hold', $left('brokers', 0, 1e9)];
        yield 'a kind that is no more' => ["JSON_SET(definition, '$.condition.kind', 'omen')", 'kind', $left('brokers', 7_200, 1e15)];
        yield 'nothing but a name' => ["JSON_OBJECT('name', JSON_VALUE(definition, '$.name'))", 'formula', $left('', 0, 1e15)];
        yield 'nothing' => ["'{}'", 'name', $left('', 0, 1e15)];
    }

    /**
     * What was kept by another version, or by a hand in the database, stops none of the others.
     *
     * @param array<string, mixed> $left
     */
    #[DataProvider('spoilt')]
    public function testARuleThatCannotBeReadAnyMoreIsBrokenAndAllOthersGoOn(string $spoilt, string $said, array $left): void
    {
        $name = 'Spoilt ' . bin2hex(random_bytes(3));
        $written = PlainRule::of(['name' => $name, 'formula' => 'messaging_queue_depth'] + self::RULE);
        [$status, $rule, $text] = $this->client->send('POST', '/api/rules', $written);
        self::assertSame(201, $status, $text);
        $id = $rule['id'];
        // Revisions never change, so whoever knows one looks no more: the next one is read by all.
        $this->client->change("/api/rules/{$id}", array_replace_recursive($written, ['definition' => ['holdSeconds' => 7_200]]));
        $this->database->executeStatement(
            "INSERT INTO rule_revision (rule_id, number, definition, at, author_id, reason)
             SELECT rule_id, number + 1, {$spoilt}, at, author_id, reason FROM rule_revision WHERE rule_id = ? ORDER BY number DESC LIMIT 1",
            [$id],
        );
        $this->database->executeStatement('UPDATE rule SET in_service_id = ?, version = version + 1 WHERE id = ?', [$this->database->lastInsertId(), $id]);
        try {
            $row = fn(): array => array_column($this->client->send('GET', '/api/rules')[1], null, 'id')[$id];
            Instance::eventually(static fn(): bool => $row()['brokenSince'] !== null, 30, 'Rules says so');
            self::assertStringContainsString('cannot be read any more as it is kept', $row()['fault']);
            self::assertStringContainsString($said, $row()['fault']);
            $shown = $row()['definition'];
            $isLeft = ['service' => $shown['service'], 'holdSeconds' => $shown['holdSeconds'], 'limit' => $shown['condition']['limits'][0]['limit']];
            self::assertEquals($left, $isLeft, 'what can be read is shown, and nothing is made up that would raise');
            foreach (['/api/rules', "/api/rules/{$id}", '/api/noise', '/api/rules/starts', "/api/rules/{$id}/revisions", '/api/watch'] as $path) {
                [$status, , $text] = $this->client->send('GET', $path);
                self::assertSame(200, $status, "{$path}: {$text}");
            }
            $other = PlainRule::of(['name' => "Beside {$name}", 'formula' => 'messaging_queue_depth', 'enabled' => false]);
            [$status, $beside, $text] = $this->client->send('POST', '/api/rules', $other);
            self::assertSame(201, $status, $text);
            self::assertSame(204, $this->client->send('DELETE', "/api/rules/{$beside['id']}", [])[0]);
            $dir = sys_get_temp_dir() . '/spoilt-' . bin2hex(random_bytes(4));
            $exported = Instance::console('olivine:rules:export', $dir);
            self::assertSame(1, $exported->getExitCode());
            self::assertStringContainsString("{$name} left out: condition cannot be read any more", $exported->getOutput());
            self::assertStringNotContainsString($name, (string) file_get_contents("{$dir}/rules.yaml"));
            (new Filesystem())->remove($dir);
            // The way back is the one of every rule: a former revision, or a new one.
            [$status, , $text] = $this->client->change("/api/rules/{$id}", $written);
            self::assertSame(200, $status, $text);
            Instance::eventually(static fn(): bool => $row()['brokenSince'] === null && $row()['fault'] === null, 90, 'it is mended');
        } finally {
            $this->client->send('DELETE', "/api/rules/{$id}", []);
        }
    }

    /** A pause is quiet: what was raised ends with who paused it, and nobody hears that all is well. */
    public function testPausingATargetEndsItsAlertsQuietlyAndSaysWhy(): void
    {
        $service = 'pausing-' . bin2hex(random_bytes(3));
        $agent = 'http://127.0.0.1:' . Instance::port(5) . '/metrics';
        $target = $this->client->send('POST', '/api/targets', [
            'name' => $service,
            'url' => $agent,
            'intervalSeconds' => 5,
            'labels' => ['service' => $service],
        ])[1];
        Instance::eventually(fn(): bool => $this->client->send('GET', "/api/targets/{$target['id']}/page")[1]['metrics'] !== [], 30, 'it is read');
        $rule = $this->client->send(
            'POST',
            '/api/rules',
            PlainRule::of([
                'name' => "Up {$service}",
                'formula' => "system_uptime_seconds where service = \"{$service}\"",
                'limit' => 1,
                'holdSeconds' => 0,
                'service' => $service,
                'blindAfterSeconds' => 60,
                'blindSeverity' => 'minor',
            ] + self::RULE),
        )[1];
        $phase = fn(): string => (string) $this->database->fetchOne('SELECT phase FROM alert WHERE rule_id = ?', [$rule['id']]);
        try {
            Instance::eventually(static fn(): bool => $phase() === 'raised', 60, 'it is raised');
            self::assertSame(200, $this->client->send('POST', "/api/targets/{$target['id']}/pause", ['paused' => true])[0]);
            Instance::eventually(
                fn(): bool => (string) $this->database->fetchOne('SELECT status FROM incident WHERE service = ? ORDER BY id DESC LIMIT 1', [
                    $service,
                ]) === 'resolved',
                90,
                'its incident is over',
            );
            $words = implode(
                "\n",
                $this->database->fetchFirstColumn('SELECT words FROM trail t JOIN incident i ON i.id = t.incident_id WHERE i.service = ?', [
                    $service,
                ]),
            );
            self::assertStringContainsString('paused by Ines Duarte', $words);
            self::assertSame(
                0,
                (int) $this->database->fetchOne(
                    "SELECT COUNT(*) FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.service = ? AND d.kind IN ('recovered', 'lost')",
                    [$service],
                ),
                'nobody hears that all is well',
            );
        } finally {
            $this->client->send('DELETE', "/api/rules/{$rule['id']}", []);
            $this->client->send('DELETE', "/api/targets/{$target['id']}", []);
        }
    }

    /** History stays one series through another label, another name and another target under the freed name. */
    public function testATargetsNamesAndLabelsAreLaidOverWhatItBrought(): void
    {
        $mark = bin2hex(random_bytes(3));
        $agent = 'http://127.0.0.1:' . Instance::port(5) . '/metrics';
        $add = fn(): array => $this->client->send('POST', '/api/targets', [
            'name' => "quay-{$mark}",
            'url' => $agent,
            'intervalSeconds' => 5,
            'labels' => ['service' => "quay-{$mark}"],
        ])[1];
        $lines = fn(string $where): array => $this->client->send(
            'GET',
            '/api/chart?' .
                http_build_query([
                    'formula' => "system_uptime_seconds where {$where}",
                    'from' => (int) (microtime(true) * 1000) - 900_000,
                    'points' => 60,
                ]),
        )[1]['lines'];
        $first = $add();
        try {
            Instance::eventually(static fn(): bool => count($lines("target = \"quay-{$mark}\"")) === 1, 40, 'it is read');
            self::assertSame(
                200,
                $this->client->change("/api/targets/{$first['id']}", [
                    'name' => "quay-{$mark}",
                    'url' => $agent,
                    'intervalSeconds' => 5,
                    'labels' => ['service' => "harbour-{$mark}"],
                ])[0],
            );
            Instance::eventually(
                static fn(): bool => count($lines("service = \"harbour-{$mark}\"")) === 1,
                20,
                'its history is there under the new label',
            );
            self::assertSame([], $lines("service = \"quay-{$mark}\""), 'and no more under the old one');
            self::assertSame(
                200,
                $this->client->change("/api/targets/{$first['id']}", [
                    'name' => "pier-{$mark}",
                    'url' => $agent,
                    'intervalSeconds' => 5,
                    'labels' => ['service' => "harbour-{$mark}"],
                ])[0],
            );
            $second = $add();
            Instance::eventually(
                static fn(): bool => count($lines("target = \"quay-{$mark}\"")) === 1 && count($lines("target = \"pier-{$mark}\"")) === 1,
                40,
                'each under its own name',
            );
            $newest = array_filter(
                explode("\n", $this->client->send('GET', '/api/newest')[2]),
                static fn(string $line): bool => str_starts_with($line, 'system_uptime_seconds{'),
            );
            $labels = array_map(static fn(string $line): string => strstr($line, '}', true) ?: '', $newest);
            self::assertSame(count($labels), count(array_unique($labels)), 'no two series have the same labels');
            self::assertStringContainsString("target=\"pier-{$mark}\"", implode("\n", $labels));
            $count = fn(): int => (int) $this->database->fetchOne('SELECT COUNT(*) FROM series s WHERE s.target_id = ?', [$first['id']]);
            $before = $count();
            posix_kill($this->parts()['collector']['pid'], SIGTERM);
            Instance::eventually(
                fn(): bool => (array_column($this->client->send('GET', '/api/targets')[1], null, 'id')[$first['id']]['status']['at'] ?? 0) >
                    (microtime(true) - 6) * 1000,
                40,
                'it is read again after a restart',
            );
            self::assertSame($before, $count(), 'it goes on in the same series');
            $this->client->send('DELETE', "/api/targets/{$second['id']}", []);
        } finally {
            $this->client->send('DELETE', "/api/targets/{$first['id']}", []);
        }
    }

    /**
     * @phpstan-impure
     *
     * @return list<array<string, mixed>> open ones that the rule is named in
     */
    private function incidentsOf(string $rule): array
    {
        return array_values(
            array_filter($this->client->send('GET', '/api/watch')[1]['open'], static fn(array $one): bool => str_contains($one['title'], $rule)),
        );
    }
}

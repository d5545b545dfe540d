<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\StoredReadings;
use Olivine\App\Store\StoredRollups;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Threshold;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** Breaks the running instance on purpose and counts what is left. */
final class FaultsTest extends TestCase
{
    public function testATargetInTroubleIsShownWithItsReasonAndComesBack(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $status = static function (string $name) use ($client): array {
            foreach ($client->send('GET', '/api/targets')[1] as $target) {
                if ($target['name'] === $name) {
                    return $target['status'] ?? ['ok' => true, 'message' => ''];
                }
            }

            return [];
        };
        foreach (['garbage' => 'Line 1', 'error' => 'status 500', 'down' => 'closed'] as $kind => $reason) {
            $this->mended('broker-south');
            Instance::fleet('/break', $kind, 'broker-south');
            Instance::eventually(
                static fn(): bool => !$status('broker-south')['ok'] && str_contains($status('broker-south')['message'], $reason),
                25,
                "{$kind} is noticed and said as {$reason}",
            );
            self::assertFalse($status('broker-south')['ok']);
        }
        $this->mended('broker-south');
        Instance::eventually(static fn(): bool => $status('broker-south')['ok'], 25, 'it comes back');
    }

    /**
     * A queue backs up while parts are killed twenty times at random: each mail arrives once, no committed reading is
     * lost, every part is back by itself, and replaying the readings gives the transitions that were recorded.
     */
    public function testTwentyKillsWhileAQueueIsRaising(): void
    {
        $database = Instance::connect();
        $letters = count(Instance::letters());
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 1));
        $from = (int) (microtime(true) * 1000);
        Instance::fleet('/break', 'queue', 'broker-north');
        $before = $this->rowCount($database);
        $seen = [];
        $killed = ['collector' => 0, 'evaluator' => 0, 'dispatcher' => 0, 'database' => 0];
        for ($kill = 0; $kill < 20; ++$kill) {
            usleep(mt_rand(2_000_000, 7_000_000));
            $name = $kill < 4 ? array_keys($killed)[$kill] : array_rand($killed);
            $pid = $this->parts()[$name]['pid'];
            // What is committed now must still be there at the end.
            $this->remember($database, $seen, $from);
            posix_kill($pid, SIGKILL);
            ++$killed[$name];
            Instance::eventually(
                fn(): bool => $this->parts()[$name]['pid'] !== $pid && $this->alive($this->parts()[$name]['pid']),
                15,
                "{$name} is started again",
            );
        }
        Instance::eventually(fn(): bool => $this->incident($database, $from) !== null, 90, 'the incident opened');
        $incident = (int) $this->incident($database, $from);
        Instance::eventually(
            static fn(): bool => (int) $database->fetchOne(
                "SELECT COUNT(*) FROM delivery WHERE incident_id = ? AND kind = 'raised' AND status = 'sent'",
                [$incident],
            ) > 0,
            60,
            'the first mail was sent',
        );
        Instance::fleet('/heal', 'queue', 'broker-north');
        Instance::eventually(
            static fn(): bool => $database->fetchOne('SELECT status FROM incident WHERE id = ?', [$incident]) === 'resolved',
            400,
            'the incident resolved',
        );
        Instance::eventually(
            static fn(): bool => (int) $database->fetchOne(
                "SELECT COUNT(*) FROM delivery WHERE incident_id = ? AND status NOT IN ('sent', 'dropped')",
                [$incident],
            ) === 0,
            60,
            'every mail is out',
        );

        foreach ($seen as $row => $sum) {
            [$page, $at] = explode(' ', $row);
            self::assertSame(
                $sum,
                sha1((string) $database->fetchOne('SELECT packed FROM scrape_row WHERE page = ? AND at = ?', [$page, $at])),
                "the reading committed as {$row} is there",
            );
        }
        self::assertGreaterThan($before + 100, $this->rowCount($database));
        $planned = $database->fetchFirstColumn("SELECT message_key FROM delivery WHERE incident_id = ? AND status = 'sent'", [$incident]);
        $arrived = array_map(static fn(array $letter): string => trim(explode('@', $letter['messageId'])[0], '<'), Instance::letters());
        self::assertGreaterThanOrEqual(2, count($planned), 'raised and recovered');
        foreach ($planned as $key) {
            self::assertSame(1, count(array_keys($arrived, $key, true)), "{$key} is at the mailbox once");
        }
        self::assertGreaterThan($letters, count($arrived));
        self::assertSame(
            1,
            (int) $database->fetchOne("SELECT COUNT(*) FROM incident WHERE service = 'boarding-gate' AND opened_at >= ?", [$from]),
            'one incident',
        );
        self::assertSame($this->recorded($database, $from), $this->replayed($database, $from), 'replay gives what live recorded');
        fwrite(STDERR, sprintf("\nkills: %s; %d rows remembered, %d mails\n", json_encode($killed), count($seen), count($planned)));
    }

    /** A collector that is frozen, not killed: nobody starts it again, but another takes over, and it finds that out itself. */
    public function testAnotherTakesOverFromOneThatIsFrozen(): void
    {
        $database = Instance::connect();
        $owner = static fn(): string => (string) $database->fetchOne("SELECT owner FROM lease WHERE name = 'collector'");
        $page = (int) $database->fetchOne(
            "SELECT MIN(s.page) FROM series s JOIN target t ON t.id = s.target_id JOIN metric m ON m.id = s.metric_id
             WHERE t.name = 'broker-north' AND m.name = 'messaging_queue_depth'",
        );
        $from = (int) (microtime(true) * 1000);
        $second = new Process([PHP_BINARY, 'bin/console', 'olivine:collector'], dirname(__DIR__, 2), null, null, null);
        $second->start();
        $frozen = $this->parts()['collector']['pid'];
        $first = $owner();
        try {
            sleep(3);
            self::assertSame($first, $owner(), 'it waits while the first one works');
            posix_kill($frozen, SIGSTOP);
            $stopped = microtime(true);
            Instance::eventually(static fn(): bool => $owner() !== $first, 20, 'another takes over');
            self::assertLessThan(15.5, microtime(true) - $stopped);
            $taken = (int) (microtime(true) * 1000);
            Instance::eventually(
                static fn(): bool => (int) $database->fetchOne('SELECT COUNT(*) FROM scrape_row WHERE page = ? AND at > ?', [$page, $taken]) >= 2,
                60,
                'and goes on',
            );
            posix_kill($frozen, SIGCONT);
            sleep(20);
            self::assertStringContainsString((string) $second->getPid(), $owner(), 'who took over keeps it');
            self::assertTrue($this->alive($frozen), 'the one that was frozen stands by');
        } finally {
            posix_kill($frozen, SIGCONT);
            $second->stop(10.0, SIGTERM);
        }
        $released = (int) (microtime(true) * 1000);
        Instance::eventually(
            static fn(): bool => (int) $database->fetchOne('SELECT COUNT(*) FROM scrape_row WHERE page = ? AND at > ?', [$page, $released]) >= 2,
            60,
            'the first one is at work again',
        );
        $times = array_map(
            intval(...),
            $database->fetchFirstColumn('SELECT at FROM scrape_row WHERE page = ? AND at > ? ORDER BY at', [$page, $from]),
        );
        $steps = array_map(static fn(int $a, int $b): int => $b - $a, array_slice($times, 0, -1), array_slice($times, 1));
        self::assertLessThan(46_000, max([0, ...$steps]), 'a takeover costs two scrapes at most');
        self::assertSame([], array_filter($steps, static fn(int $step): bool => $step < 10_000), 'nobody asked twice: ' . implode(' ', $steps));
    }

    /** The mail server refuses everything while an incident opens; when it is back each mail arrives once, late but whole. */
    public function testMailWaitsForAServerThatIsAway(): void
    {
        $database = Instance::connect();
        $known = array_column(Instance::letters(), 'messageId');
        $from = (int) (microtime(true) * 1000);
        $away = static fn() => file_get_contents(
            'http://127.0.0.1:' . Instance::port(3) . '/away',
            false,
            stream_context_create(['http' => ['method' => 'POST', 'follow_location' => 0, 'ignore_errors' => true]]),
        );
        $away();
        try {
            Instance::fleet('/break', 'queue', 'broker-south');
            Instance::eventually(
                static fn(): bool => (int) $database->fetchOne(
                    'SELECT MAX(attempts) FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.opened_at >= ?',
                    [$from],
                ) >= 3,
                260,
                'sending was tried and tried again',
            );
            self::assertSame([], array_diff(array_column(Instance::letters(), 'messageId'), $known), 'nothing got through');
            self::assertStringContainsString(
                'away',
                implode(
                    ' ',
                    array_map(
                        strval(...),
                        $database->fetchFirstColumn('SELECT answer FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.opened_at >= ?', [
                            $from,
                        ]),
                    ),
                ),
                "the server's own words are kept",
            );
        } finally {
            $away();
            Instance::fleet('/heal', 'queue', 'broker-south');
        }
        Instance::eventually(
            static fn(): bool => (int) $database->fetchOne(
                "SELECT COUNT(*) FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.opened_at >= ? AND d.status = 'sent'",
                [$from],
            ) > 0,
            120,
            'it is sent once the server is back',
        );
        usleep(3_000_000);
        $new = array_count_values(array_diff(array_column(Instance::letters(), 'messageId'), $known));
        self::assertNotSame([], $new);
        self::assertSame([1], array_values(array_unique($new)), 'each mail once');
        Instance::eventually(
            static fn(): bool => (int) $database->fetchOne("SELECT COUNT(*) FROM incident WHERE opened_at >= ? AND status <> 'resolved'", [$from]) ===
                0,
            400,
            'the incident ends',
        );
    }

    public function testStatusTellsOfEachPart(): void
    {
        $status = Instance::console('olivine:status');
        foreach (['database', 'collector', 'evaluator', 'dispatcher', 'keeper', 'web', 'nginx', 'mailbox', 'fleet', 'agent'] as $part) {
            self::assertMatchesRegularExpression("~{$part}\s+up~", $status->getOutput());
        }
    }

    private function mended(string $target): void
    {
        foreach (['garbage', 'error', 'down', 'slow', 'queue'] as $kind) {
            Instance::fleet('/heal', $kind, $target);
        }
    }

    /** @return list<string> */
    private function recorded(Connection $database, int $from): array
    {
        return array_map(
            static fn(array $row): string => "{$row['at']} {$row['from_phase']}>{$row['to_phase']} {$row['severity']}",
            $database->fetchAllAssociative(
                "SELECT t.* FROM transition t JOIN rule r ON r.id = t.rule_id WHERE r.name = 'Boarding queue' AND t.at > ? ORDER BY t.at, t.labels_hash",
                [$from],
            ),
        );
    }

    /** @return list<string> */
    private function replayed(Connection $database, int $from): array
    {
        $rule = $database->fetchAssociative(
            "SELECT r.*, p.through_at FROM rule r JOIN rule_progress p ON p.rule_id = r.id WHERE r.name = 'Boarding queue'",
        );
        self::assertIsArray($rule);
        $engine = new RuleEngine(
            new AllThatIsThere(new Evaluator(new StoredReadings($database, new SeriesIndex($database), new StoredRollups($database)))),
        );
        $outcome = $engine->run(
            Parser::parse((string) $rule['formula']),
            new Threshold(
                Severity::from((string) $rule['severity']),
                Direction::Above,
                (float) $rule['limit_value'],
                1000 * (int) $rule['hold_seconds'],
                (float) $rule['clear_limit'],
                1000 * (int) $rule['clear_hold_seconds'],
                1000 * (int) $rule['blind_after_seconds'],
                Severity::Minor,
                (float) $rule['worse_limit'],
                Severity::Critical,
            ),
            15_000,
            [],
            $from - 120_000,
            (int) $rule['through_at'],
        );
        $words = [];
        foreach ($outcome->transitions as $happened) {
            $transition = $happened->transition;
            if ($transition->atMs > $from && $transition->atMs <= (int) $rule['through_at']) {
                $words[] = "{$transition->atMs} {$transition->from->value}>{$transition->to->value} {$transition->severity?->value}";
            }
        }

        return $words;
    }

    private function incident(Connection $database, int $from): ?string
    {
        $id = $database->fetchOne("SELECT id FROM incident WHERE service = 'boarding-gate' AND opened_at >= ?", [$from]);

        return $id === false ? null : (string) $id;
    }

    /** @param array<string, string> $seen */
    private function remember(Connection $database, array &$seen, int $from): void
    {
        Instance::eventually(
            static function () use ($database, &$seen, $from): bool {
                foreach ($database->fetchAllNumeric('SELECT page, at, packed FROM scrape_row WHERE at > ?', [$from]) as [$page, $at, $packed]) {
                    $seen["{$page} {$at}"] = sha1((string) $packed);
                }

                return true;
            },
            20,
            'the readings can be looked at',
        );
    }

    private function rowCount(Connection $database): int
    {
        return (int) $database->fetchOne('SELECT COUNT(*) FROM scrape_row');
    }

    /** @return array<string, array{pid: int}> */
    private function parts(): array
    {
        $parts = json_decode((string) file_get_contents(dirname(__DIR__, 2) . '/var/test/run/parts.json'), true);

        return is_array($parts) ? $parts : [];
    }

    private function alive(int $pid): bool
    {
        return $pid > 0 && is_dir("/proc/{$pid}");
    }
}

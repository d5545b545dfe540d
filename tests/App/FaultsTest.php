<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** Breaks the running instance on purpose and counts what is left. */
final class FaultsTest extends TestCase
{
    use WatchedParts;

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
}

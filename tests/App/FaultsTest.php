<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Demo\DemoPeople;
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

    /**
     * A second collector shares the work; the first is frozen, not killed: nobody starts it again, but the other takes over,
     * and it finds that out itself. No target is asked twice, and none is left out for long.
     */
    public function testAnotherSharesTheWorkAndTakesOverFromOneThatIsFrozen(): void
    {
        $database = Instance::connect();
        $heldBy = static fn(int ...$pids): array => array_map(self::slotsOf(...), $pids);
        $page = (int) $database->fetchOne(
            "SELECT MIN(s.page) FROM series s JOIN target t ON t.id = s.target_id JOIN metric m ON m.id = s.metric_id
             WHERE t.name = 'broker-north' AND m.name = 'messaging_queue_depth'",
        );
        $from = (int) (microtime(true) * 1000);
        $second = new Process([PHP_BINARY, 'bin/console', 'olivine:collector'], dirname(__DIR__, 2), null, null, null);
        $second->start();
        $frozen = $this->parts()['collector']['pid'];
        self::assertSame([16], $heldBy($frozen), 'one alone holds all');
        $joined = (int) $second->getPid();
        try {
            Instance::eventually(static fn(): bool => $heldBy($frozen, $joined) === [8, 8], 30, 'they share');
            posix_kill($frozen, SIGSTOP);
            $stopped = microtime(true);
            Instance::eventually(static fn(): bool => $heldBy($joined) === [16], 20, 'the other one takes over');
            self::assertLessThan(15.5, microtime(true) - $stopped);
            $taken = (int) (microtime(true) * 1000);
            Instance::eventually(
                static fn(): bool => (int) $database->fetchOne('SELECT COUNT(*) FROM scrape_row WHERE page = ? AND at > ?', [$page, $taken]) >= 2,
                60,
                'and goes on',
            );
            posix_kill($frozen, SIGCONT);
            Instance::eventually(static fn(): bool => $heldBy($frozen, $joined) === [8, 8], 30, 'they share again');
            sleep(20);
            self::assertSame([8, 8], $heldBy($frozen, $joined), 'and that stays so');
            self::assertTrue($this->alive($frozen), 'the one that was frozen is at work again');
        } finally {
            posix_kill($frozen, SIGCONT);
            $second->stop(10.0, SIGTERM);
        }
        $released = (int) (microtime(true) * 1000);
        Instance::eventually(
            static fn(): bool => (int) $database->fetchOne('SELECT COUNT(*) FROM scrape_row WHERE page = ? AND at > ?', [$page, $released]) >= 2,
            60,
            'the first one has all again',
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
        // Nobody else is told where it fails.
        $admin = new Client('admin@saltmarsh.example');
        $standsIn = static function (bool $isSo) use ($admin): void {
            $webhook = array_column($admin->send('GET', '/api/channels/set-up')[1], null, 'name')[DemoPeople::WEBHOOK];
            self::assertSame(200, $admin->send('PUT', "/api/channels/{$webhook['id']}", array_diff_key(['standsIn' => $isSo] + $webhook, ['id' => 0]))[0]);
        };
        $standsIn(false);
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
            $standsIn(true);
            Instance::fleet('/heal', 'queue', 'broker-south');
        }
        Instance::eventually(
            static fn(): bool => (int) $database->fetchOne(
                "SELECT COUNT(*) FROM delivery d JOIN incident i ON i.id = d.incident_id WHERE i.opened_at >= ?
                    AND d.status = 'sent' AND d.channel = 'e-mail'",
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
        $parts = ['database', 'collector', 'evaluator', 'dispatcher', 'keeper', 'mail', 'webhooks', 'web', 'nginx', 'mailbox', 'sink', 'fleet', 'agent'];
        foreach ($parts as $part) {
            self::assertMatchesRegularExpression("~{$part}\s+up~", $status->getOutput(), $status->getErrorOutput());
        }
    }

    private static function slotsOf(int $collector): int
    {
        // Asked again and again: each connection is closed, so that the server has some left for others.
        $database = Instance::connect();
        $held = (int) $database->fetchOne(
            "SELECT COUNT(*) FROM lease WHERE part = 'collector' AND owner LIKE ? AND lease_until >= NOW(3)",
            ["%:{$collector}:%"],
        );
        $database->close();

        return $held;
    }
}

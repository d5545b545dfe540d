<?php

declare(strict_types=1);

namespace Olivine\Tests\Faults;

use Doctrine\DBAL\Connection;
use Olivine\App\Demo\DemoChannels;
use Olivine\App\Demo\DemoPeople;
use Olivine\Core\Series\BlockCodec;
use Olivine\Tests\App\Instance;
use Olivine\Tests\App\WatchedParts;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** A long run of kills, too long for every change: `bin/olivine bench faults`. */
final class KillsTest extends TestCase
{
    use WatchedParts;

    private const SHARED = [
        'collector' => ['olivine:collector'],
        'evaluator' => ['olivine:evaluator'],
        'dispatcher' => ['olivine:dispatcher'],
        'mail' => ['olivine:sender', 'mail'],
        'webhooks' => ['olivine:sender', 'webhooks'],
        'sms' => ['olivine:sender', 'sms'],
        'voice' => ['olivine:sender', 'voice'],
        'chat' => ['olivine:sender', 'chat'],
        'tickets' => ['olivine:sender', 'tickets'],
    ];
    /** Channel → whom it tells. */
    private const TOLD = [
        'e-mail' => 'sunniva', DemoPeople::WEBHOOK => 'tomasz', DemoChannels::SMS => 'ines', DemoChannels::VOICE => 'oyelaran', DemoChannels::CHAT => 'mei-lin',
        DemoChannels::DESK => 'admin',
    ];
    private const OUTSIDE = [8, 9, 10];
    private const MODES = ['takes', 'takes', 'fails', 'hangs', 'loses'];
    /** @var array<string, Process> second copies of the parts, which share their work */
    private array $copies = [];

    protected function tearDown(): void
    {
        array_map(static fn(Process $copy): ?int => $copy->stop(10.0, SIGTERM), $this->copies);
        array_map(static fn(int $offset) => Instance::press($offset, '/mode', ['mode' => 'takes']), self::OUTSIDE);
    }

    /**
     * A queue backs up while parts and second copies of them are killed at random, a hundred times, and telephones, chat and desk fail, hang
     * and lose answers on purpose: each message arrives once wherever it goes, no committed reading is lost, every part is back by itself, and
     * replaying the readings gives the transitions that were recorded.
     */
    public function testKillsWhileAQueueIsRaising(): void
    {
        $database = Instance::connect();
        $letters = count(Instance::letters());
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 1));
        $from = (int) (microtime(true) * 1000);
        Instance::fleet('/break', 'queue', 'broker-north');
        $before = $this->rowCount($database);
        $seen = [];
        $kills = (int) (getenv('OLIVINE_KILLS') ?: 100);
        $killed = array_fill_keys([...array_keys(self::SHARED), 'database', 'a copy'], 0);
        array_map($this->startCopy(...), array_keys(self::SHARED));
        $this->waitUntilShared($database);
        $other = $this->madeUpIncident($database);
        $told = [];
        for ($kill = 0; $kill < $kills; ++$kill) {
            usleep(mt_rand(2_000_000, 7_000_000));
            $told = [...$told, ...$this->plant($database, $other, $kill)];
            Instance::press(self::OUTSIDE[mt_rand(0, 2)], '/mode', ['mode' => self::MODES[mt_rand(0, 4)]]);
            $name = $kill < count($killed) ? array_keys($killed)[$kill] : array_rand($killed);
            ++$killed[$name];
            if ($name === 'a copy') {
                $this->remember($database, $seen, $from);
                $part = array_rand(self::SHARED);
                $this->copies[$part]->stop(0.0, SIGKILL);
                $this->startCopy($part);
                continue;
            }
            $pid = $this->parts()[$name]['pid'];
            // What is committed now must still be there at the end.
            $this->remember($database, $seen, $from);
            posix_kill($pid, SIGKILL);
            Instance::eventually(
                fn(): bool => $this->parts()[$name]['pid'] !== $pid && $this->alive($this->parts()[$name]['pid']),
                15,
                "{$name} is started again",
            );
        }
        array_map(static fn(int $offset) => Instance::press($offset, '/mode', ['mode' => 'takes']), self::OUTSIDE);
        $waits = static fn(): int => (int) $database->fetchOne(
            "SELECT COUNT(*) FROM delivery WHERE incident_id = ? AND status NOT IN ('sent', 'dropped')",
            [$other],
        );
        Instance::eventually(static fn(): bool => $waits() === 0, 400, 'whatever was planned meanwhile is out');
        self::assertOnce($database, $told, $other);
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
            $packed = $database->fetchOne('SELECT packed FROM scrape_row WHERE page = ? AND at = ?', [$page, $at]);
            $isThere = $packed === false ? self::isSealed($database, (int) $page, (int) $at) : sha1((string) $packed) === $sum;
            self::assertTrue($isThere, "the reading committed as {$row} is there");
        }
        self::assertGreaterThan($before + 100, $this->rowCount($database));
        $planned = $database->fetchFirstColumn("SELECT message_key FROM delivery WHERE incident_id = ? AND status = 'sent'", [$incident]);
        $arrived = array_map(static fn(array $letter): string => trim(explode('@', $letter['messageId'])[0], '<'), Instance::letters());
        array_push($arrived, ...array_column(Instance::events(), 'id'), ...self::outside());
        $planned = array_values(array_filter($planned, static fn(string $key): bool => !str_contains($key, '.copy ') || in_array($key, $arrived, true)));
        self::assertGreaterThanOrEqual(2, count($planned), 'raised and recovered');
        foreach ($planned as $key) {
            self::assertSame(1, count(array_keys($arrived, $key, true)), "{$key} is at the mailbox or the sink once");
        }
        self::assertGreaterThan($letters, count($arrived));
        self::assertSame(
            1,
            (int) $database->fetchOne("SELECT COUNT(*) FROM incident WHERE service = 'boarding-gate' AND opened_at >= ?", [$from]),
            'one incident',
        );
        $this->assertReplayAgrees();
        fwrite(STDERR, sprintf(
            "\nkills: %s; %d rows remembered, %d messages of the queue, %d planted over %d channels\n",
            json_encode($killed),
            count($seen),
            count($planned),
            count($told),
            count(self::TOLD),
        ));
    }

    /** Of which messages are told whatever is killed; nobody climbs its ladder. */
    private function madeUpIncident(Connection $database): int
    {
        $database->insert('incident', [
            'path' => 'everything else', 'service' => 'kills', 'title' => 'Whatever is killed', 'severity' => 'critical', 'status' => 'open',
            'opened_at' => (int) (microtime(true) * 1000), 'replayed' => 1, 'lap' => 0,
        ]);

        return (int) $database->lastInsertId();
    }

    /** @return list<array{string, string}> channel and key of one message by each */
    private function plant(Connection $database, int $incident, int $kill): array
    {
        $planted = [];
        Instance::eventually(function () use ($database, $incident, $kill, &$planted): bool {
            $planted = [];
            foreach (self::TOLD as $channel => $who) {
                $key = "kill-{$incident}-{$kill}-{$channel}";
                $planted[] = [$channel, $key];
                $person = $database->fetchOne('SELECT id FROM person WHERE email = ?', ["{$who}@saltmarsh.example"]);
                $database->executeStatement(
                    "INSERT IGNORE INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
                     VALUES (?, 'worse', ?, ?, ?, UNIX_TIMESTAMP() * 1000, 'planned', 0, 0, '', ?)",
                    // From a hundred on a round means that one has spread, of which an hour bears so many.
                    [$incident, $kill, $person, $channel, $key],
                );
            }

            return true;
        }, 20, 'messages can be planned');

        return $planted;
    }

    /** @param list<array{string, string}> $told channel and key */
    private static function assertOnce(Connection $database, array $told, int $incident): void
    {
        $arrived = array_count_values([
            ...array_map(static fn(array $letter): string => trim(explode('@', $letter['messageId'])[0], '<'), Instance::letters()),
            ...array_column(Instance::events(), 'id'),
            ...self::outside(),
        ]);
        // What one channel did not take went another way too: each of them once. What was dropped then may have arrived, its answer lost.
        $all = $database->fetchAllKeyValue('SELECT message_key, status FROM delivery WHERE incident_id = ? AND channel <> ?', [$incident, DemoChannels::DESK]);
        self::assertGreaterThanOrEqual(count($told) / count(self::TOLD) * (count(self::TOLD) - 1), count($all));
        foreach ($all as $key => $status) {
            $most = $arrived[$key] ?? 0;
            self::assertTrue($most === 1 || ($status === 'dropped' && $most === 0), "{$key}, {$status}, is there {$most} times");
        }
        // The desk has one ticket of it, opened by the first message; each of the others is one comment.
        $tickets = array_values(array_filter(Instance::told(10), static fn(array $one): bool => $one['of'] === "incident-{$incident}"));
        self::assertCount(1, $tickets);
        $keys = array_column(array_filter($told, static fn(array $one): bool => $one[0] === DemoChannels::DESK), 1);
        $comments = array_keys($tickets[0]['comments'] ?? []);
        self::assertSame([], array_diff($comments, $keys));
        $sent = $database->fetchFirstColumn(
            "SELECT message_key FROM delivery WHERE incident_id = ? AND channel = ? AND status = 'sent'",
            [$incident, DemoChannels::DESK],
        );
        self::assertLessThanOrEqual(1, count(array_diff($sent, $comments)), 'all that it took, but for what opened it');
    }

    /** @return list<string> the ids of what arrived by telephone and in the chat */
    private static function outside(): array
    {
        return array_map(static fn(array $one): string => $one['message']['id'], [...Instance::told(8), ...Instance::told(9)]);
    }

    private function startCopy(string $part): void
    {
        $copy = new Process([PHP_BINARY, 'bin/console', ...self::SHARED[$part]], dirname(__DIR__, 2), null, null, null);
        $copy->disableOutput();
        $copy->start();
        $this->copies[$part] = $copy;
    }

    private function waitUntilShared(Connection $database): void
    {
        Instance::eventually(
            static fn(): bool => (int) $database->fetchOne(
                'SELECT COUNT(*) FROM (SELECT 1 FROM lease WHERE lease_until >= NOW(3) GROUP BY part, owner HAVING COUNT(*) = 8) half',
            ) === 2 * count(self::SHARED),
            60,
            'two copies of each share the work',
        );
    }

    /** Of every rule, whatever was killed while it looked. */
    private function assertReplayAgrees(): void
    {
        $command = new Process([PHP_BINARY, 'bin/console', 'olivine:rules:agree'], dirname(__DIR__, 2), null, null, 300.0);
        $command->run();
        self::assertSame(0, $command->getExitCode(), $command->getOutput() . $command->getErrorOutput());
    }

    private function incident(Connection $database, int $from): ?string
    {
        $id = $database->fetchOne("SELECT id FROM incident WHERE service = 'boarding-gate' AND opened_at >= ?", [$from]);

        return $id === false ? null : (string) $id;
    }

    /** After ten minutes rows are sealed into blocks, whose counts and sums `store verify` holds. */
    private static function isSealed(Connection $database, int $page, int $at): bool
    {
        $runs = $database->fetchFirstColumn('SELECT packed FROM block_time WHERE page = ? AND from_at <= ?', [$page, $at]);

        return array_any($runs, static fn(mixed $packed): bool => in_array($at, BlockCodec::unpackTimes((string) $packed), true));
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
}

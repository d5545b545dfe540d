<?php

declare(strict_types=1);

namespace Olivine\Tests\Faults;

use Doctrine\DBAL\Connection;
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
    ];
    /** @var array<string, Process> second copies of the parts, which share their work */
    private array $copies = [];

    protected function tearDown(): void
    {
        array_map(static fn(Process $copy): ?int => $copy->stop(10.0, SIGTERM), $this->copies);
    }

    /**
     * A queue backs up while parts and second copies of them are killed at random, a hundred times: each mail arrives once, no committed reading is
     * lost, every part is back by itself, and replaying the readings gives the transitions that were recorded.
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
        for ($kill = 0; $kill < $kills; ++$kill) {
            usleep(mt_rand(2_000_000, 7_000_000));
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
        array_push($arrived, ...array_column(Instance::events(), 'id'));
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
        fwrite(STDERR, sprintf("\nkills: %s; %d rows remembered, %d mails\n", json_encode($killed), count($seen), count($planned)));
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

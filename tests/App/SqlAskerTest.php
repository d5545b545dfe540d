<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Check\CheckAsks;
use Olivine\App\Collect\Check\CheckSecrets;
use Olivine\App\Collect\Check\Logins;
use Olivine\App\Collect\Check\OpenSecrets;
use Olivine\App\Collect\Check\SocketRun;
use Olivine\App\Collect\Check\SqlAsker;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Definition\SqlEngine;
use Olivine\App\Collect\Definition\SqlFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

/** Queries to a real MariaDB and a real PostgreSQL: what they bring, and what none of them can do. */
final class SqlAskerTest extends TestCase
{
    use RealServers;

    private const PASSWORD = 'tide-and-time';
    /** @var array<string, int> engine → port */
    private static array $servers = [];
    private CheckSecrets $secrets;

    public static function setUpBeforeClass(): void
    {
        self::ownFolder('sql');
        foreach (SqlEngine::cases() as $engine) {
            self::$servers[$engine->value] = self::freePort();
            $engine === SqlEngine::MariaDb ? self::harbour(self::mariaDb(self::$servers[$engine->value])) : self::desk(self::$servers[$engine->value]);
        }
    }

    protected function setUp(): void
    {
        $this->secrets = new CheckSecrets(new Credentials('a secret of the test', sys_get_temp_dir()));
    }

    public function testARowOfEitherServer(): void
    {
        foreach (SqlEngine::cases() as $engine) {
            $query = 'SELECT COUNT(*) AS waiting_tickets, MAX(age) AS oldest_ticket_seconds, MIN(state) AS state FROM ticket';
            $run = $this->asked($this->fields($engine, $query, 'json /state = "open"'));
            self::assertSame([Verdict::Runs, ''], [$run->judged()->verdict, $run->judged()->words]);
            $values = array_column(array_map(static fn(CheckReading $one): array => [$one->metric, $one->value], $run->judged()->readings), 1, 0);
            self::assertSame([2.0, 90.5], [$values['waiting_tickets'], $values['oldest_ticket_seconds']]);
            self::assertStringContainsString('"waiting_tickets": 2', $run->lastAnswer());
            self::assertGreaterThan(0, $run->steps()[0]->phases->connect);
            $run = $this->asked($this->fields($engine, 'SELECT age FROM ticket WHERE age > 1000'));
            self::assertSame([Verdict::Partly, 'The query gave no row'], [$run->judged()->verdict, $run->judged()->words]);
        }
    }

    /** Each ends in time, in words; nothing of the database is changed by any of them, also where its user might change it. */
    public function testWhatGoesWrongIsSaidAndNothingIsChanged(): void
    {
        foreach (SqlEngine::cases() as $engine) {
            $isMariaDb = $engine === SqlEngine::MariaDb;
            $sleeps = $isMariaDb ? 'SELECT SLEEP(30)' : 'SELECT pg_sleep(30)';
            foreach (
                [
                    [$this->fields($engine, 'SELECT * FROM nothing_of_the_kind'), Verdict::Partly, '~nothing_of_the_kind~'],
                    [$this->fields($engine, 'WITH gone AS (DELETE FROM ticket RETURNING *) SELECT * FROM gone'), Verdict::Partly, '~syntax|read-only~'],
                    [$this->fields($engine, 'SELECT 1; DROP TABLE ticket'), Verdict::Partly, '~syntax|multiple commands~'],
                    [$this->fields($engine, "SELECT * FROM ticket /*! ; DELETE FROM ticket */"), null, '~~'],
                    [$this->fields($engine, $sleeps, patience: 2.0), null, '~No answer within 2 s|statement timeout|max_statement_time|~'],
                    [$this->fields($engine, "SELECT REPEAT('x', 3000000) AS long_text, 7 AS n"), Verdict::Runs, '~^$~'],
                ] as [$fields, $verdict, $words]
            ) {
                $from = microtime(true);
                $run = $this->asked($fields);
                self::assertLessThan(30, microtime(true) - $from, $fields->query);
                $found = $run->judged();
                self::assertTrue($verdict === null || $found->verdict === $verdict, "{$fields->query}: {$found->verdict->value} {$found->words}");
                self::assertMatchesRegularExpression($words, $run->judged()->words, $fields->query);
                self::assertLessThanOrEqual(66_000, strlen($run->lastAnswer()));
                self::assertDoesNotMatchRegularExpression('~SQLSTATE|PDO|\.php|' . self::PASSWORD . '~', $run->judged()->words . $run->lastAnswer());
            }
            $left = $this->asked($this->fields($engine, 'SELECT COUNT(*) AS tickets FROM ticket'));
            self::assertSame(2.0, array_find($left->judged()->readings, static fn(CheckReading $one): bool => $one->metric === 'tickets')?->value);
            $run = $this->asked($this->fields($engine, 'SELECT 1'), 'another password');
            self::assertSame(Verdict::Down, $run->judged()->verdict, $run->judged()->words);
            self::assertMatchesRegularExpression('~denied|authentication failed~', $run->judged()->words);
        }
        $nobody = new SqlFields(SqlEngine::MariaDb, '127.0.0.1', 'reader', 'SELECT 1', self::freePort());
        self::assertSame(Verdict::Down, $this->asked($nobody)->judged()->verdict);
        self::assertStringContainsString('refused', $this->asked($nobody)->judged()->words);
        $silent = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($silent);
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($silent, false), ':'), 1);
        $hangs = $this->asked(new SqlFields(SqlEngine::MariaDb, '127.0.0.1', 'reader', 'SELECT 1', $port, patienceSeconds: 1.0));
        self::assertSame([Verdict::Down, 'No answer within 1 s'], [$hangs->judged()->verdict, $hangs->judged()->words]);
        fclose($silent);
    }

    /** More that hang than are asked at once: the rest stand in line, each ends in its turn, and no other kind finds less room for it. */
    public function testWhoWaitsForRoomKeepsNobodyElseWaiting(): void
    {
        $silent = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($silent);
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($silent, false), ':'), 1);
        $asker = $this->asker('loopback');
        $fields = new SqlFields(SqlEngine::MariaDb, '127.0.0.1', 'reader', 'SELECT 1', $port, patienceSeconds: 1.0);
        $runs = array_map(static fn(int $i): SocketRun => new SocketRun(new Target("run {$i}", '', Instant::ofMs(0)), null, 1, $fields), range(1, 70));
        array_map($asker->start(...), $runs);
        self::assertGreaterThan(30, $asker->inFlight());
        self::assertGreaterThan(1_000, $asker->room());
        $ended = [];
        for ($until = microtime(true) + 120; $asker->inFlight() > 0 && microtime(true) < $until;) {
            array_push($ended, ...$asker->advance(0.1));
        }
        fclose($silent);
        self::assertCount(70, $ended);
        foreach ($runs as $run) {
            self::assertSame('No answer within 1 s', $run->judged()->words, 'its patience begins when it is asked');
        }
        array_map($asker->start(...), array_slice($runs, 0, 40));
        $asker->abandon();
        self::assertSame(0, $asker->inFlight(), 'those in line are let go of too');
    }

    public function testAPasswordGoesOnlyWhereItWasEnteredFor(): void
    {
        $fields = $this->fields(SqlEngine::MariaDb, 'SELECT 1');
        $moved = new SqlFields(SqlEngine::MariaDb, 'localhost', 'reader', 'SELECT 1', $fields->port());
        $run = $this->asked($moved, origin: $fields->logins()[SqlFields::PASSWORD][0]);
        self::assertStringContainsString('was entered for another server', $run->judged()->words);
        $inside = $this->asked($fields, mayAsk: '');
        self::assertSame(Verdict::Unknown, $inside->judged()->verdict);
        self::assertStringContainsString('this machine itself', $inside->judged()->words);
    }

    private function fields(SqlEngine $engine, string $query, string $expects = '', float $patience = 20.0): SqlFields
    {
        $database = $engine === SqlEngine::MariaDb ? 'harbour' : 'postgres';

        return new SqlFields($engine, '127.0.0.1', 'reader', $query, self::$servers[$engine->value], $database, $expects, $patience);
    }

    private function asked(SqlFields $fields, string $password = self::PASSWORD, ?string $origin = null, string $mayAsk = 'loopback'): SocketRun
    {
        $asker = $this->asker($mayAsk);
        $target = new Target('run', '', Instant::ofMs(0));
        $this->secrets->seal($target, new OpenSecrets([SqlFields::PASSWORD => $password], [$origin ?? $fields->logins()[SqlFields::PASSWORD][0]]));
        $run = new SocketRun($target, null, 1, $fields);
        $asker->start($run);
        for ($until = microtime(true) + 60; $asker->inFlight() > 0 && microtime(true) < $until;) {
            $asker->advance(0.1);
        }
        self::assertSame(0, $asker->inFlight());

        return $run;
    }

    private function asker(string $mayAsk): SqlAsker
    {
        $definitions = (new \ReflectionClass(Definitions::class))->newInstanceWithoutConstructor();

        return new SqlAsker(new Reach($mayAsk, 1), new CheckAsks($definitions), new Logins($this->secrets));
    }

    private static function harbour(string $way): void
    {
        $connection = self::patiently(static fn(): \PDO => new \PDO($way, 'root', ''));
        $connection->exec('CREATE DATABASE harbour');
        self::fill($connection, 'harbour.');
        $connection->exec("CREATE USER reader@'127.0.0.1' IDENTIFIED BY '" . self::PASSWORD . "'");
        $connection->exec("GRANT ALL ON harbour.* TO reader@'127.0.0.1'");
    }

    private static function desk(int $port): void
    {
        $way = self::postgreSql($port, self::PASSWORD);
        $connection = self::patiently(static fn(): \PDO => new \PDO($way, 'root', self::PASSWORD));
        self::fill($connection, '');
        $connection->exec("CREATE ROLE reader LOGIN PASSWORD '" . self::PASSWORD . "'");
        $connection->exec('GRANT ALL ON ticket TO reader');
    }

    private static function fill(\PDO $connection, string $in): void
    {
        $connection->exec("CREATE TABLE {$in}ticket (age DOUBLE PRECISION, state VARCHAR(20))");
        $connection->exec("INSERT INTO {$in}ticket VALUES (12, 'open'), (90.5, 'open')");
    }
}

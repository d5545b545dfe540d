<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Answer\FoundPartner;
use Olivine\App\Collect\Check\CheckAsks;
use Olivine\App\Collect\Check\CheckSecrets;
use Olivine\App\Collect\Check\FoundPartners;
use Olivine\App\Collect\Check\Logins;
use Olivine\App\Collect\Check\OpenSecrets;
use Olivine\App\Collect\Check\ReplicationAsker;
use Olivine\App\Collect\Check\SocketRun;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Definition\CheckFields;
use Olivine\App\Collect\Definition\PartnerFields;
use Olivine\App\Collect\Definition\ReplicationFields;
use Olivine\App\Collect\Definition\SecretFields;
use Olivine\App\Collect\Definition\SqlEngine;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** A real source and a real partner of each engine: followed, stopped, behind, and set going again. */
final class ReplicationAskerTest extends TestCase
{
    use RealServers;

    private const PASSWORD = 'tide-and-time';

    public static function setUpBeforeClass(): void
    {
        self::ownFolder('replication');
    }

    public function testMariaDb(): void
    {
        [$atSource, $atPartner] = [self::freePort(), self::freePort()];
        $source = $this->connected(self::mariaDb($atSource, ['--log-bin', '--server-id=1']), '');
        $partner = $this->connected(self::mariaDb($atPartner, ['--server-id=2', '--report-host=127.0.0.1', "--report-port={$atPartner}"]), '');
        foreach ([$source, $partner] as $one) {
            $one->exec('SET SESSION sql_log_bin = 0');
            $one->exec("CREATE USER watcher@'127.0.0.1' IDENTIFIED BY '" . self::PASSWORD . "'");
            $one->exec("GRANT SLAVE MONITOR, REPLICATION SLAVE, REPLICATION MASTER ADMIN, PROCESS ON *.* TO watcher@'127.0.0.1'");
            $one->exec('SET SESSION sql_log_bin = 1');
        }
        $source->exec('CREATE DATABASE harbour');
        $source->exec('CREATE TABLE harbour.berth (n INT PRIMARY KEY)');
        $fields = $this->fields(SqlEngine::MariaDb, $atSource, $atPartner);
        $found = $this->asked($fields)->judged();
        self::assertSame([Verdict::Partly, 'skarn: it follows nobody'], [$found->verdict, $found->words]);
        $partner->exec("CHANGE MASTER TO master_host='127.0.0.1', master_port={$atSource}, master_user='watcher',
            master_password='" . self::PASSWORD . "', master_use_gtid=slave_pos, master_connect_retry=1");
        $partner->exec('START SLAVE');
        $this->follows($fields);
        self::assertEquals([new FoundPartner('127.0.0.1', '127.0.0.1', $atPartner)], $this->partners($fields));

        $partner->exec('STOP SLAVE SQL_THREAD');
        array_map(static fn(int $n): int|false => $source->exec("INSERT INTO harbour.berth VALUES ({$n})"), range(1, 7));
        $run = $this->asked($fields);
        self::assertSame([Verdict::Partly, 'skarn: it carries nothing out'], [$run->judged()->verdict, $run->judged()->words]);
        self::assertSame([0.0, 7.0, null], $this->readings($run));
        $partner->exec('START SLAVE SQL_THREAD');
        $this->follows($fields);

        // What the partner has itself already, it cannot carry out once more.
        $partner->exec('INSERT INTO harbour.berth VALUES (77)');
        $source->exec('INSERT INTO harbour.berth VALUES (77)');
        $run = self::patiently(function () use ($fields): SocketRun {
            $run = $this->asked($fields);

            return str_contains($run->judged()->words, '77') ? $run : throw new \RuntimeException($run->judged()->words);
        });
        self::assertMatchesRegularExpression("~^skarn: it carries nothing out: .*Duplicate entry '77'~", $run->judged()->words);
        self::assertStringContainsString('"Slave_SQL_Running": "No"', $run->steps()[1]->head);
    }

    public function testPostgreSql(): void
    {
        [$atSource, $atPartner] = [self::freePort(), self::freePort()];
        $source = $this->connected(self::postgreSql($atSource, self::PASSWORD), self::PASSWORD);
        $source->exec("CREATE ROLE watcher LOGIN REPLICATION PASSWORD '" . self::PASSWORD . "'");
        $source->exec('GRANT pg_monitor TO watcher');
        $source->exec('CREATE TABLE berth (n INT)');
        $data = self::postgresFolder('partner');
        $copy = [self::postgresProgram('pg_basebackup'), '-h', '127.0.0.1', '-p', (string) $atSource, '-U', 'watcher', '-D', $data, '-R', '-c', 'fast'];
        (new Process([...self::asPostgres(), ...$copy], '/', ['PGPASSWORD' => self::PASSWORD], timeout: 240))->mustRun();
        self::postgresBegins($data, $atPartner);
        $partner = $this->connected("pgsql:host=127.0.0.1;port={$atPartner};dbname=postgres", self::PASSWORD);
        $fields = $this->fields(SqlEngine::PostgreSql, $atSource, $atPartner);
        $this->follows($fields);
        self::assertEquals([new FoundPartner('walreceiver', '127.0.0.1', null)], $this->partners($fields));

        $partner->exec('SELECT pg_wal_replay_pause()');
        $source->exec('INSERT INTO berth SELECT generate_series(1, 1000)');
        usleep(1_200_000);
        $run = $this->asked($this->fields(SqlEngine::PostgreSql, $atSource, $atPartner, mostSeconds: 1.0));
        self::assertSame(Verdict::Partly, $run->judged()->verdict);
        self::assertMatchesRegularExpression('~^skarn is [\d,]+ s behind, more than 1 s$~', $run->judged()->words);
        [$follows, $behind, $seconds] = $this->readings($run);
        self::assertSame(1.0, $follows);
        self::assertGreaterThan(1_000, $behind, 'bytes of its log');
        self::assertGreaterThan(1, $seconds);
        $partner->exec('SELECT pg_wal_replay_resume()');
        $this->follows($fields);

        $partner->exec('SELECT pg_promote()');
        self::assertSame('skarn: it follows nobody', $this->asked($fields)->judged()->words);
    }

    public function testWhoeverIsAwayIsNamed(): void
    {
        $nobody = self::freePort();
        $found = $this->asked($this->fields(SqlEngine::MariaDb, $nobody, $nobody))->judged();
        self::assertSame(Verdict::Down, $found->verdict);
        self::assertStringStartsWith('The source: ', $found->words);
        $silent = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($silent);
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($silent, false), ':'), 1);
        $from = microtime(true);
        $found = $this->asked($this->fields(SqlEngine::MariaDb, $port, $port, patience: 1.0))->judged();
        self::assertSame([Verdict::Down, 'The source: No answer within 1 s'], [$found->verdict, $found->words]);
        self::assertLessThan(30, microtime(true) - $from);
        self::assertSame(Verdict::Unknown, $this->asked($this->fields(SqlEngine::MariaDb, $port, $port), mayAsk: '')->judged()->verdict);
        $this->expectException(Problem::class);
        $this->expectExceptionMessage('The source cannot be asked');
        $this->partners($this->fields(SqlEngine::MariaDb, $port, $port, patience: 1.0));
    }

    private function fields(SqlEngine $engine, int $source, int $partner, float $mostSeconds = 60.0, float $patience = 20.0): ReplicationFields
    {
        $partners = [new PartnerFields('skarn', '127.0.0.1', $partner)];
        $database = $engine === SqlEngine::MariaDb ? '' : 'postgres';

        return new ReplicationFields($engine, '127.0.0.1', 'watcher', $partners, $source, $database, $mostSeconds, $patience);
    }

    private function follows(ReplicationFields $fields): void
    {
        self::patiently(function () use ($fields): void {
            $run = $this->asked($fields);
            $found = $run->judged();
            [$follows, $behind, $seconds] = $this->readings($run);
            $found->verdict === Verdict::Runs && $behind === 0.0 || throw new \RuntimeException("{$found->verdict->value}: {$found->words} {$behind}");
            self::assertSame([1.0, 0.0], [$follows, $seconds], 'one that has everything is not behind');
        });
    }

    /** @return array{float|null, float|null, float|null} follows, how far behind, for how long */
    private function readings(SocketRun $run): array
    {
        $of = static fn(string $metric): ?float => array_find(
            $run->judged()->readings,
            static fn(CheckReading $one): bool => $one->metric === $metric && $one->labels === ['partner' => 'skarn'],
        )?->value;

        return [$of('check_replication_follows'), $of('check_replication_behind'), $of('check_replication_seconds')];
    }

    private function asked(ReplicationFields $fields, string $mayAsk = 'loopback'): SocketRun
    {
        $secrets = self::secrets();
        $definitions = (new \ReflectionClass(Definitions::class))->newInstanceWithoutConstructor();
        $asker = new ReplicationAsker(new Reach($mayAsk, 1), new CheckAsks($definitions), new Logins($secrets));
        $target = new Target('twins', '', Instant::ofMs(0));
        $secrets->seal($target, new OpenSecrets([ReplicationFields::PASSWORD => self::PASSWORD], $fields->logins()[ReplicationFields::PASSWORD]));
        $run = new SocketRun($target, null, 1, $fields);
        $asker->start($run);
        for ($until = microtime(true) + 60; $asker->inFlight() > 0 && microtime(true) < $until;) {
            $asker->advance(0.1);
        }
        self::assertSame(0, $asker->inFlight());

        return $run;
    }

    /** @return list<FoundPartner> */
    private function partners(ReplicationFields $fields): array
    {
        $written = new CheckFields($fields, 'twins', secrets: [new SecretFields(ReplicationFields::PASSWORD, self::PASSWORD)]);

        return (new FoundPartners(new Logins(self::secrets()), new Reach('loopback', 1)))->of(new Target('', '', Instant::ofMs(0)), $written);
    }

    private static function secrets(): CheckSecrets
    {
        return new CheckSecrets(new Credentials('a secret of the test', sys_get_temp_dir()));
    }

    private function connected(string $way, string $password): \PDO
    {
        return self::patiently(static fn(): \PDO => new \PDO($way, 'root', $password));
    }
}

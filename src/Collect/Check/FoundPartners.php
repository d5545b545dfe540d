<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\FoundPartner;
use Olivine\App\Collect\Definition\CheckFields;
use Olivine\App\Collect\Definition\ReplicationFields;
use Olivine\App\Collect\Definition\SqlEngine;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Expect\Comparison;
use React\EventLoop\StreamSelectLoop;

/** Who follows a database, as it says itself, so that partners can be chosen from a list. */
final readonly class FoundPartners
{
    /** For each of its queries; somebody waits before a page. */
    private const MOST_SECONDS = 10.0;

    public function __construct(private Logins $logins, private Reach $reach)
    {
    }

    /**
     * @return list<FoundPartner>
     *
     * @throws Problem where it cannot be asked, with why
     */
    public function of(Target $check, CheckFields $fields): array
    {
        $asks = $fields->asks;
        if (!$asks instanceof ReplicationFields) {
            throw Problem::field('asks', 'Partners are looked for where replication is checked');
        }
        DatabaseServer::checkNames($asks->database, $asks->user);
        $patience = min(self::MOST_SECONDS, $asks->patienceSeconds);
        $source = new ReplicationFields($asks->engine, $asks->host, $asks->user, [], $asks->port, $asks->database, patienceSeconds: $patience);
        $password = $this->logins->entered($check, $fields, $source)->values[ReplicationFields::PASSWORD] ?? '';
        $server = new DatabaseServer(
            $source->engine,
            $source->host,
            $source->port(),
            $source->user,
            $password,
            $source->database,
            $source->patienceSeconds,
        );
        $found = [];
        foreach (self::queries($source->engine) as $query) {
            foreach ($this->rows($server, $query, $source->patienceSeconds) as $row) {
                [$host, $name] = [self::word($row, 'host'), self::word($row, 'name')];
                if ($host !== '') {
                    $port = Comparison::number($row['Port'] ?? $row['port'] ?? null);
                    $found["{$name} {$host} {$port}"] = new FoundPartner($name === '' ? $host : $name, $host, $port === null ? null : (int) $port);
                }
            }
            if ($found !== []) {
                break;
            }
        }

        return array_values($found);
    }

    /** @return list<string> the next where the one before knows nobody */
    private static function queries(SqlEngine $engine): array
    {
        return match ($engine) {
            // Names that partners gave themselves (report_host); else from where they take over.
            SqlEngine::MariaDb => [
                'SHOW SLAVE HOSTS',
                "SELECT SUBSTRING_INDEX(HOST, ':', 1) AS host FROM information_schema.PROCESSLIST WHERE COMMAND LIKE 'Binlog Dump%' ORDER BY ID",
            ],
            SqlEngine::PostgreSql => [
                'SELECT application_name AS name, host(client_addr) AS host FROM pg_stat_replication WHERE client_addr IS NOT NULL ORDER BY pid',
            ],
        };
    }

    /**
     * @return list<array<string, string|float|bool|null>>
     *
     * @throws Problem
     */
    private function rows(DatabaseServer $server, string $query, float $patience): array
    {
        $loop = new StreamSelectLoop();
        [$times, $program] = [new SocketTimes(), new ProgramBeside($loop)];
        $answer = DatabaseAnswer::failed($times, RunsUnderWay::late($times, $patience));
        $came = static function (DatabaseAnswer $one) use (&$answer, $loop): void {
            $answer = $one;
            $loop->stop();
        };
        $loop->addTimer($patience, $loop->stop(...));
        try {
            $server->asked($query, ReplicationFields::MOST_PARTNERS, new ReachedNames($loop, $this->reach), $times, $program)
                ->then($came, static fn(\Throwable $error) => $came(DatabaseAnswer::failed($times, RunsUnderWay::reason($error))));
            $loop->run();
        } catch (\Throwable $error) {
            $answer = DatabaseAnswer::failed($times, RunsUnderWay::reason($error));
        } finally {
            $program->end();
        }
        if ($answer->fault !== null && !$answer->isConnected) {
            throw Problem::field('asks.host', "The source cannot be asked: {$answer->fault}");
        }

        return $answer->rows;
    }

    /** @param array<string, string|float|bool|null> $row */
    private static function word(array $row, string $column): string
    {
        $value = $row[$column] ?? $row[ucfirst($column)] ?? '';

        return is_string($value) ? mb_substr(trim($value), 0, 100) : '';
    }
}

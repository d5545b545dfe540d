<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Definition\ReplicationFields;
use Olivine\App\Collect\Definition\SqlEngine;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Expect\Comparison;
use Olivine\Core\Check\Replication\ReplicationCheck;
use Olivine\Core\Check\Replication\ReplicationEnd;

/** Asks a database how far it is, and those that follow it how far they are, all at the same time. */
final class ReplicationAsker extends AskerBeside
{
    private const SOURCE = '';
    /** What is kept as evidence: how each stands, and nothing of logins and files. */
    private const SHOWN = [
        'position', 'follows', 'seconds', 'receivers', 'Connection_name', 'Master_Host', 'Master_Port', 'Slave_IO_Running', 'Slave_SQL_Running',
        'Seconds_Behind_Master', 'Gtid_IO_Pos', 'Gtid_Slave_Pos', 'Last_IO_Error', 'Last_SQL_Error',
    ];
    /** One that follows several sources has a row for each. */
    private const MOST_ROWS = 16;

    /** @throws Problem naming the field and what it must be */
    public static function check(ReplicationFields $fields, ?int $slowMs): ReplicationCheck
    {
        SocketChecks::address($fields->host, $fields->port());
        DatabaseServer::checkNames($fields->database, $fields->user);
        $names = array_map(static fn(string $name): string => mb_strtolower(trim($name)), array_column($fields->partners, 'name'));
        if ($names === []) {
            throw Problem::field('asks.partners', 'Choose at least one partner that follows it');
        }
        foreach ($fields->partners as $i => $partner) {
            SocketChecks::address($partner->host, $fields->portOf($partner), "partners[{$i}].host");
            if (in_array($names[$i], array_slice($names, 0, $i), true)) {
                throw Problem::field("asks.partners[{$i}].name", "There is a partner {$partner->name} already");
            }
        }

        return new ReplicationCheck($fields->mostSeconds, (int) ($fields->patienceSeconds * 1000), $slowMs);
    }

    protected function mostAtOnce(): int
    {
        // Each of them asks up to seventeen servers, by a program each.
        return 2;
    }

    protected function begin(SocketRun $run): void
    {
        $fields = $run->asks;
        if (!$fields instanceof ReplicationFields) {
            throw new \LogicException('This is asked otherwise');
        }
        $check = self::check($fields, $run->target->slowMs);
        $servers = $this->servers($run->target, $fields);
        /** @var array<string, SocketTimes> $times */
        $times = array_map(static fn(): SocketTimes => new SocketTimes(), $servers);
        $programs = array_map(fn(): ProgramBeside => new ProgramBeside($this->runs->loop), $servers);
        /** @var array<string, DatabaseAnswer> $answers */
        $answers = [];
        $came = function (string $name, DatabaseAnswer $answer) use ($run, $fields, $check, &$answers, $times): void {
            $answers[$name] ??= $answer;
            if (count($answers) === count($times) && !$this->runs->isGone($run)) {
                self::end($run, $fields, $check, $answers, $times);
                $this->runs->end($run);
            }
        };
        $late = static function () use ($came, $fields, $times): void {
            foreach ($times as $name => $one) {
                $came($name, DatabaseAnswer::failed($one, RunsUnderWay::late($one, $fields->patienceSeconds)));
            }
        };
        $letGo = static fn() => array_map(static fn(ProgramBeside $program) => $program->end(), $programs);
        $this->runs->begin($run, $check->patienceMs, $late, static function () use ($letGo): void {
            $letGo();
        });
        foreach ($servers as $name => $server) {
            $failed = static fn(string $fault) => $came($name, DatabaseAnswer::failed($times[$name], $fault));
            $query = $name === self::SOURCE ? self::sourceQuery($fields->engine) : self::partnerQuery($fields->engine);
            RunsUnderWay::tried($times[$name], $failed, fn() => $server
                ->asked($query, self::MOST_ROWS, $this->names, $times[$name], $programs[$name])
                ->then(static fn(DatabaseAnswer $answer) => $came($name, $answer), static fn(\Throwable $error) => $failed(RunsUnderWay::reason($error))));
        }
    }

    /**
     * @return array<string, DatabaseServer> by name, the source's is ""
     *
     * @throws ScrapeRefused where the password was entered for another server
     */
    private function servers(Target $target, ReplicationFields $fields): array
    {
        $password = $this->logins->of($target, $fields)[ReplicationFields::PASSWORD] ?? '';
        $server = static fn(string $host, int $port): DatabaseServer => new DatabaseServer(
            $fields->engine,
            $host,
            $port,
            $fields->user,
            $password,
            $fields->database,
            $fields->patienceSeconds,
        );
        $servers = [self::SOURCE => $server($fields->host, $fields->port())];
        foreach ($fields->partners as $partner) {
            // A name of digits alone would be a number among the keys.
            $servers[" {$partner->name}"] = $server($partner->host, $fields->portOf($partner));
        }

        return $servers;
    }

    /**
     * @param array<string, DatabaseAnswer> $answers
     * @param array<string, SocketTimes>    $times
     */
    private static function end(SocketRun $run, ReplicationFields $fields, ReplicationCheck $check, array $answers, array $times): void
    {
        $source = $answers[self::SOURCE];
        $atSource = new ReplicationEnd(self::text($source->rows[0]['position'] ?? null), fault: $source->fault, isOurs: $source->isOurs);
        [$partners, $steps] = [[], [self::step('source', $fields->address(), $times[self::SOURCE], $source)]];
        foreach ($fields->partners as $partner) {
            $answer = $answers[" {$partner->name}"];
            $partners[$partner->name] = self::partner($fields, $answer);
            $address = "{$fields->engine->value}://{$partner->host}:{$fields->portOf($partner)}";
            $steps[] = self::step($partner->name, $address, $times[" {$partner->name}"], $answer);
        }
        $run->ends($check->judge($source->phases, $atSource, $partners), '', ...$steps);
    }

    private static function step(string $name, string $sent, SocketTimes $times, DatabaseAnswer $answer): CheckStep
    {
        $shown = array_map(static fn(array $row): array => array_intersect_key($row, array_flip(self::SHOWN)), $answer->rows);
        $rows = json_encode($shown, JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);

        return SocketRun::step($name, $sent, $times->ip, $answer->phases, $answer->rows === [] ? '' : (string) $rows, 0, $answer->fault);
    }

    private static function partner(ReplicationFields $fields, DatabaseAnswer $answer): ReplicationEnd
    {
        if ($answer->fault !== null) {
            return new ReplicationEnd(null, fault: $answer->fault, isOurs: $answer->isOurs);
        }

        return $fields->engine === SqlEngine::MariaDb ? self::mariaDb($fields, $answer->rows) : self::postgreSql($answer->rows[0] ?? []);
    }

    /** @param list<array<string, string|float|bool|null>> $rows */
    private static function mariaDb(ReplicationFields $fields, array $rows): ReplicationEnd
    {
        $row = array_find($rows, static fn(array $one): bool => ($one['Master_Host'] ?? null) === $fields->host) ?? $rows[0] ?? null;
        if ($row === null) {
            return new ReplicationEnd(null, fault: 'it follows nobody');
        }
        $stopped = array_filter([
            'it takes nothing over' => ($row['Slave_IO_Running'] ?? null) !== 'Yes',
            'it carries nothing out' => ($row['Slave_SQL_Running'] ?? null) !== 'Yes',
        ]);
        $why = self::text($row['Last_SQL_Error'] ?? null) ?? self::text($row['Last_IO_Error'] ?? null);
        $fault = $stopped === [] ? null : implode(', ', array_keys($stopped)) . ($why === null ? '' : ": {$why}");

        return new ReplicationEnd(self::text($row['Gtid_Slave_Pos'] ?? null), Comparison::number($row['Seconds_Behind_Master'] ?? null), $fault);
    }

    /** @param array<string, string|float|bool|null> $row */
    private static function postgreSql(array $row): ReplicationEnd
    {
        $fault = match (true) {
            ($row['follows'] ?? false) !== true => 'it follows nobody',
            (Comparison::number($row['receivers'] ?? null) ?? 0.0) < 1 => 'it takes nothing over',
            default => null,
        };

        return new ReplicationEnd(self::text($row['position'] ?? null), Comparison::number($row['seconds'] ?? null), $fault);
    }

    private static function text(string|float|bool|null $value): ?string
    {
        return is_string($value) && trim($value) !== '' ? rtrim(trim($value), '.') : null;
    }

    private static function sourceQuery(SqlEngine $engine): string
    {
        return match ($engine) {
            SqlEngine::MariaDb => 'SELECT @@GLOBAL.gtid_binlog_pos AS position',
            SqlEngine::PostgreSql => <<<'SQL'
                SELECT (CASE WHEN pg_is_in_recovery() THEN pg_last_wal_replay_lsn() ELSE pg_current_wal_lsn() END)::text AS position
                SQL,
        };
    }

    private static function partnerQuery(SqlEngine $engine): string
    {
        return match ($engine) {
            SqlEngine::MariaDb => 'SHOW ALL SLAVES STATUS',
            SqlEngine::PostgreSql => <<<'SQL'
                SELECT pg_is_in_recovery() AS follows, pg_last_wal_replay_lsn()::text AS position,
                       EXTRACT(EPOCH FROM now() - COALESCE(pg_last_xact_replay_timestamp(), pg_postmaster_start_time()))::float AS seconds,
                       (SELECT COUNT(*) FROM pg_stat_wal_receiver) AS receivers
                SQL,
        };
    }
}

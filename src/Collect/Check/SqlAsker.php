<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Definition\SqlFields;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Expect\BadExpectation;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Sql\SqlCheck;
use Olivine\Core\Check\Sql\SqlExchange;

/** Asks databases for a row. */
final class SqlAsker extends AskerBeside
{
    /** @throws Problem naming the field and what it must be */
    public static function check(SqlFields $fields, ?int $slowMs): SqlCheck
    {
        SocketChecks::address($fields->host, $fields->port());
        DatabaseServer::checkNames($fields->database, $fields->user);
        $refusal = SqlCheck::refusal($fields->query);
        if ($refusal !== null) {
            throw Problem::field('asks.query', $refusal);
        }
        try {
            $expects = Expectation::of($fields->expects, hasStatus: false);
        } catch (BadExpectation $error) {
            throw Problem::field('asks.expects', $error->getMessage());
        }

        return new SqlCheck($fields->query, $expects, (int) ($fields->patienceSeconds * 1000), $slowMs);
    }

    protected function mostAtOnce(): int
    {
        return 30;
    }

    protected function begin(SocketRun $run): void
    {
        $fields = $run->asks;
        if (!$fields instanceof SqlFields) {
            throw new \LogicException('This is asked otherwise');
        }
        $check = self::check($fields, $run->target->slowMs);
        [$times, $program] = [new SocketTimes(), new ProgramBeside($this->runs->loop)];
        $over = function (DatabaseAnswer $answer) use ($run, $fields, $check, $times): void {
            if ($this->runs->isGone($run)) {
                return;
            }
            $exchange = new SqlExchange($answer->phases, $answer->rows[0] ?? null, $answer->fault, $answer->isOurs, $answer->isConnected);
            $step = SocketRun::step('', "{$fields->address()}\n{$fields->query}", $times->ip, $exchange->phases, $exchange->text(), 0, $exchange->fault);
            $run->ends($check->judge($exchange), $exchange->text(), $step);
            $this->runs->end($run);
        };
        $failed = static fn(string $fault) => $over(DatabaseAnswer::failed($times, $fault));
        $late = static fn() => $failed(RunsUnderWay::late($times, $fields->patienceSeconds));
        $this->runs->begin($run, $check->patienceMs, $late, $program->end(...));
        RunsUnderWay::tried($times, $failed, function () use ($run, $fields, $times, $program, $over, $failed): void {
            $password = $this->logins->of($run->target, $fields)[SqlFields::PASSWORD] ?? '';
            $server = new DatabaseServer(
                $fields->engine,
                $fields->host,
                $fields->port(),
                $fields->user,
                $password,
                $fields->database,
                $fields->patienceSeconds,
            );
            $server->asked($fields->query, 1, $this->names, $times, $program)
                ->then($over, static fn(\Throwable $error) => $failed(RunsUnderWay::reason($error)));
        });
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Definition\SqlFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Expect\BadExpectation;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Sql\SqlCheck;
use Olivine\Core\Check\Sql\SqlExchange;
use React\Promise\PromiseInterface;

/** Asks databases, each by a program of its own: their drivers know no other way than to wait. */
final class SqlAsker implements Asker
{
    private const MOST_AT_ONCE = 30;
    private const PROGRAM = 'server/ask-sql.php';

    private readonly RunsUnderWay $runs;
    private readonly ReachedNames $names;

    public function __construct(Reach $reach, private readonly CheckAsks $asks, private readonly CheckSecrets $secrets)
    {
        $this->runs = new RunsUnderWay(self::MOST_AT_ONCE);
        $this->names = new ReachedNames($this->runs->loop, $reach);
    }

    /** @throws Problem naming the field and what it must be */
    public static function check(SqlFields $fields, ?int $slowMs): SqlCheck
    {
        SocketChecks::address($fields->host, $fields->port());
        foreach (['database' => $fields->database, 'user' => $fields->user] as $field => $name) {
            if (preg_match(SqlCheck::PLAIN_NAME, $name) !== 1) {
                throw Problem::field("asks.{$field}", "{$field} must be letters, digits and _ $ @ . - alone");
            }
        }
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

    public function made(Target $target, ?int $dueMs, int $place): SocketRun
    {
        return new SocketRun($target, $dueMs, $place, $this->asks->of($target));
    }

    public function room(): int
    {
        return $this->runs->room();
    }

    public function inFlight(): int
    {
        return $this->runs->inFlight();
    }

    /** @throws Problem where what is asked cannot be so any more */
    public function start(CheckRun $run): void
    {
        $fields = $run instanceof SocketRun ? $run->asks : null;
        if (!$run instanceof SocketRun || !$fields instanceof SqlFields) {
            throw new \LogicException('This is asked otherwise');
        }
        $check = self::check($fields, $run->target->slowMs);
        [$times, $program] = [new SocketTimes(), new ProgramBeside($this->runs->loop)];
        $over = function (SqlExchange $exchange) use ($run, $fields, $check, $times): void {
            if ($this->runs->isGone($run)) {
                return;
            }
            $step = SocketRun::step('', "{$fields->address()}\n{$fields->query}", $times->ip, $exchange->phases, $exchange->text(), 0, $exchange->fault);
            $run->ends($check->judge($exchange), $exchange->text(), $step);
            $this->runs->end($run);
        };
        $failed = static fn(string $fault) => $over(new SqlExchange($times->phases(), null, $fault, $times->isOurs, false));
        $late = static fn() => $failed(
            sprintf($times->ip === '' ? 'The name of the host was not found within %s s' : 'No answer within %s s', $fields->patienceSeconds),
        );
        $this->runs->begin($run, $check->patienceMs, $late, $program->end(...));
        RunsUnderWay::tried($times, $failed, fn() => $this->names->address($fields->host, $fields->port(), $times)
            ->then(fn(string $ip): PromiseInterface => $program->says(self::command(), $this->asked($run->target, $fields, $ip)))
            ->then(
                static fn(array $said) => $over(self::exchange($said[0], $said[1], $times)),
                static fn(\Throwable $error) => $failed(RunsUnderWay::reason($error)),
            ));
    }

    public function advance(float $seconds): array
    {
        return $this->runs->advance($seconds);
    }

    public function abandon(): void
    {
        $this->runs->abandon();
    }

    /** @return list<string> */
    private static function command(): array
    {
        return [PHP_BINARY, '-d', 'memory_limit=64M', '-d', 'display_errors=stderr', dirname(__DIR__, 3) . '/' . self::PROGRAM];
    }

    /** @throws ScrapeRefused where the password was entered for another server */
    private function asked(Target $target, SqlFields $fields, string $ip): string
    {
        $secrets = $this->secrets->open($target);
        if ($secrets->values !== [] && !in_array($fields->origin(), $secrets->origins, true)) {
            throw new ScrapeRefused('The password was entered for another server; enter it again');
        }

        return json_encode([
            'engine' => $fields->engine->value,
            'ip' => $ip,
            'port' => $fields->port(),
            'user' => $fields->user,
            'password' => $secrets->values[SqlFields::PASSWORD] ?? '',
            'database' => $fields->database,
            'query' => $fields->query,
            'seconds' => $fields->patienceSeconds,
        ], JSON_THROW_ON_ERROR);
    }

    private static function exchange(string $said, string $complaint, SocketTimes $times): SqlExchange
    {
        $answer = json_decode($said, true, 6);
        if (!is_array($answer)) {
            return new SqlExchange($times->phases(), null, 'The program that asks broke off: ' . mb_substr(trim($complaint), 0, 200), true, false);
        }
        $seconds = static fn(string $name): ?float => is_numeric($answer[$name] ?? null) ? (float) $answer[$name] : null;
        /** @var array<string, string|float|bool|null>|null $row */
        $row = is_array($answer['row'] ?? null) ? $answer['row'] : null;

        return new SqlExchange(
            new Phases(name: $times->phases()->name, connect: $seconds('connected'), wait: $seconds('asked')),
            $row,
            is_string($answer['fault'] ?? null) ? $answer['fault'] : null,
            ($answer['isOurs'] ?? false) === true,
            ($answer['isConnected'] ?? false) === true,
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Definition\SqlEngine;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Sql\SqlCheck;
use React\Promise\PromiseInterface;

/** A database server that is asked queries which read, each by a program of its own. */
final readonly class DatabaseServer
{
    private const PROGRAM = 'ask-sql.php';

    /** @param float $patience seconds */
    public function __construct(
        private SqlEngine $engine,
        private string $host,
        private int $port,
        private string $user,
        #[\SensitiveParameter]
        private string $password,
        private string $database,
        private float $patience,
    ) {
    }

    /** @throws Problem naming the field and what it must be */
    public static function checkNames(string $database, string $user): void
    {
        foreach (['database' => $database, 'user' => $user] as $field => $name) {
            if (preg_match(SqlCheck::PLAIN_NAME, $name) !== 1) {
                throw Problem::field("asks.{$field}", "{$field} must be letters, digits and _ $ @ . - alone");
            }
        }
    }

    /**
     * @param int $rows how many are read at most
     *
     * @return PromiseInterface<DatabaseAnswer>
     *
     * @throws Problem       where the host is none
     * @throws ScrapeRefused where Olivine may not ask there
     */
    public function asked(string $query, int $rows, ReachedNames $names, SocketTimes $times, ProgramBeside $program): PromiseInterface
    {
        return $names->address($this->host, $this->port, $times)
            ->then(fn(string $ip): PromiseInterface => $program->says(AskerBeside::command(self::PROGRAM), json_encode([
                'engine' => $this->engine->value,
                'ip' => $ip,
                'port' => $this->port,
                'user' => $this->user,
                'password' => $this->password,
                'database' => $this->database,
                'query' => $query,
                'seconds' => $this->patience,
                'rows' => $rows,
            ], JSON_THROW_ON_ERROR)))
            ->then(static fn(array $said): DatabaseAnswer => self::answer($said[0], $said[1], $times));
    }

    private static function answer(string $said, string $complaint, SocketTimes $times): DatabaseAnswer
    {
        $answer = json_decode($said, true, 6);
        if (!is_array($answer)) {
            return new DatabaseAnswer($times->phases(), [], 'The program that asks broke off: ' . mb_substr(trim($complaint), 0, 200), true, false);
        }
        $seconds = static fn(string $name): ?float => is_numeric($answer[$name] ?? null) ? (float) $answer[$name] : null;
        /** @var list<array<string, string|float|bool|null>> $rows */
        $rows = is_array($answer['rows'] ?? null) ? $answer['rows'] : [];

        return new DatabaseAnswer(
            new Phases(name: $times->phases()->name, connect: $seconds('connected'), wait: $seconds('asked')),
            $rows,
            is_string($answer['fault'] ?? null) ? $answer['fault'] : null,
            ($answer['isOurs'] ?? false) === true,
            ($answer['isConnected'] ?? false) === true,
        );
    }
}

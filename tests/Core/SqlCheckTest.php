<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Sql\SqlCheck;
use Olivine\Core\Check\Sql\SqlExchange;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Exposition\MetricType;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What a row of a database comes to: verdict, words and readings. */
final class SqlCheckTest extends TestCase
{
    /** @return iterable<string, array{SqlExchange, string, Verdict, string}> */
    public static function exchanges(): iterable
    {
        $phases = new Phases(connect: 0.01, wait: 0.02);
        $row = ['waiting_tickets' => 12.0, 'state' => 'open', 'lag_seconds' => '3.5'];
        yield 'a row' => [new SqlExchange($phases, $row), '', Verdict::Runs, ''];
        yield 'as expected' => [new SqlExchange($phases, $row), 'json /waiting_tickets < 20 and json /state = "open"', Verdict::Runs, ''];
        yield 'other than expected' => [new SqlExchange($phases, $row), 'json /lag_seconds < 3', Verdict::Partly, 'lag_seconds'];
        yield 'a column that is not there' => [new SqlExchange($phases, $row), 'json /waiting = 1', Verdict::Partly, '/waiting'];
        yield 'no row' => [new SqlExchange($phases, null), '', Verdict::Partly, 'The query gave no row'];
        yield 'a query that fails' => [new SqlExchange($phases, null, "Table 'x' doesn't exist"), '', Verdict::Partly, "Table 'x' doesn't exist"];
        yield 'nobody is let in' => [new SqlExchange($phases, null, 'Access denied', isConnected: false), '', Verdict::Down, 'Access denied'];
        yield 'our own fault' => [new SqlExchange($phases, null, 'may not', true, false), '', Verdict::Unknown, 'may not'];
    }

    #[DataProvider('exchanges')]
    public function testComesToAVerdict(SqlExchange $exchange, string $expects, Verdict $verdict, string $words): void
    {
        $judgement = (new SqlCheck('SELECT 1', Expectation::of($expects, hasStatus: false), 1_000))->judge($exchange);
        self::assertSame($verdict, $judgement->verdict, $judgement->words);
        $words === '' ? self::assertSame('', $judgement->words) : self::assertStringContainsString($words, $judgement->words);
    }

    public function testNumbersBecomeReadingsByTheirColumns(): void
    {
        $row = [
            'waiting_tickets' => 12.0, 'oldest_ticket_seconds' => '90.5', 'Seconds_Behind_Master' => '0', 'COUNT(*)' => 3.0, 'used_bytes' => 1e9,
            'name' => 'berths',
            'gone' => null, 'is_open' => true, 'check_runs' => 0.0, '7th' => 1.0, 'asked_total' => 9.0,
        ];
        $check = new SqlCheck('SELECT 1', Expectation::of('', hasStatus: false), 1_000, slowMs: 10);
        $judgement = $check->judge(new SqlExchange(new Phases(connect: 0.01, wait: 0.02), $row));
        $own = array_filter($judgement->readings, static fn(CheckReading $one): bool => !isset(CheckReading::METRICS[$one->metric]));
        self::assertSame(
            [
                'waiting_tickets' => [12.0, ''], 'oldest_ticket_seconds' => [90.5, 'seconds'], 'seconds_behind_master' => [0.0, ''], 'count' => [3.0, ''],
                'used_bytes' => [1e9, 'bytes'], 'is_open' => [1.0, ''], 'asked_total' => [9.0, ''],
            ],
            array_map(static fn(CheckReading $one): array => [$one->value, $one->unit], array_column($own, null, 'metric')),
        );
        self::assertSame(MetricType::Counter, array_find($own, static fn(CheckReading $one): bool => $one->metric === 'asked_total')?->type);
        self::assertStringContainsString('30 ms', $judgement->words, 'it was slow');
        self::assertSame(1.0, array_column($judgement->readings, 'value', 'metric')['check_runs'], 'a column takes no place of ours');
    }

    /** @return iterable<string, array{string, bool}> */
    public static function queries(): iterable
    {
        foreach (
            [
                'select 1', "  SELECT a\nFROM b;", "-- how many\nSELECT 1", '/* so; many */ WITH x AS (SELECT 1) SELECT * FROM x', 'SHOW REPLICA STATUS',
                'VALUES (1)',
                'TABLE ticket',
            ] as $reads
        ) {
            yield $reads => [$reads, true];
        }
        foreach (
            [
                '', 'DELETE FROM a', 'selection', 'SET GLOBAL x = 1', "SELECT 1 INTO OUTFILE '/tmp/x'", "-- SELECT\nDROP TABLE a", 'CALL p()',
                'EXPLAIN ANALYZE DELETE FROM a', '/* SELECT */ UPDATE a SET b = 1', 'LOCK TABLES a WRITE',
            ] as $writes
        ) {
            yield $writes => [$writes, false];
        }
    }

    #[DataProvider('queries')]
    public function testOnlyWhatReadsIsAsked(string $query, bool $reads): void
    {
        self::assertSame($reads, SqlCheck::refusal($query) === null, (string) SqlCheck::refusal($query));
    }
}

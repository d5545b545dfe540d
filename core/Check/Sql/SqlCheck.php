<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Sql;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Expect\Comparison;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Http\NamedValue;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Exposition\MetricType;

/**
 * One row of a query that reads. Down: the server cannot be reached, or lets nobody in. Runs partly: the query fails, gives no row, or
 * one that is not as expected.
 *
 * `SELECT COUNT(*) AS waiting_tickets, MAX(age) AS oldest_ticket_seconds FROM …` brings the two readings under these names; what ends
 * in _seconds, _bytes or _ratio is measured in that, and what ends in _total is counted on and on.
 */
final readonly class SqlCheck
{
    private const READS = '~^\s*+(?:(?:--[^\n]*\n|/\*.*?\*/)\s*+)*+(?:SELECT|WITH|SHOW|VALUES|TABLE)\b~is';
    /** What stands in the name of a database or user may mean nothing to a driver: `berths;host=10.0.0.1` would lead elsewhere. */
    public const PLAIN_NAME = '~^[\p{L}\p{N}_$@.-]*$~uD';
    private const UNITS = ['seconds', 'bytes', 'ratio'];
    private const MOST_VALUES = 50;

    public function __construct(public string $query, public Expectation $expects, public int $patienceMs, public ?int $slowMs = null)
    {
    }

    /** @return string|null why a query is none that reads; that it changes nothing is seen to by the server, which is asked to read only, and one query */
    public static function refusal(string $query): ?string
    {
        return match (true) {
            preg_match(self::READS, $query) !== 1 => 'The query must read: it begins with SELECT, WITH, SHOW, VALUES or TABLE',
            preg_match('~\binto\s+(?:outfile|dumpfile)\b~i', $query) === 1 => 'The query must read; it writes a file',
            default => null,
        };
    }

    public function judge(SqlExchange $exchange): Judgement
    {
        $seconds = $exchange->phases->total();
        $missing = $exchange->fault === null && $exchange->row !== null ? $this->expects->missing($exchange) : [];
        $verdict = match (true) {
            $exchange->isOurs => Verdict::Unknown,
            !$exchange->isConnected => Verdict::Down,
            $exchange->fault !== null, $exchange->row === null, $missing !== [] => Verdict::Partly,
            default => Verdict::Runs,
        };
        $isSlow = $verdict === Verdict::Runs && $this->slowMs !== null && $seconds * 1000 > $this->slowMs;
        $words = match (true) {
            $exchange->fault !== null => $exchange->fault,
            $exchange->row === null => 'The query gave no row',
            $isSlow => Judgement::slow($seconds, (int) $this->slowMs),
            default => ucfirst(implode('; ', $missing)),
        };

        return new Judgement($verdict, $words, [...CheckReading::common($verdict, $exchange->phases, $isSlow), ...self::values($exchange->row ?? [])]);
    }

    /**
     * @param array<string, string|float|bool|null> $row
     *
     * @return list<CheckReading>
     */
    private static function values(array $row): array
    {
        $readings = [];
        foreach ($row as $written => $value) {
            // A database writes Seconds_Behind_Master, or COUNT(*).
            $column = strtolower(trim((string) preg_replace('~[^A-Za-z0-9]++~', '_', (string) $written), '_'));
            $number = Comparison::number($value);
            $isOurs = isset(CheckReading::METRICS[$column]);
            if ($number === null || $isOurs || preg_match(NamedValue::NAME, $column) !== 1 || count($readings) >= self::MOST_VALUES) {
                continue;
            }
            $unit = array_find(self::UNITS, static fn(string $unit): bool => str_ends_with($column, "_{$unit}")) ?? '';
            $type = str_ends_with($column, '_total') ? MetricType::Counter : MetricType::Gauge;
            $readings[] = new CheckReading($column, $number, type: $type, unit: $unit, help: 'Read from a database');
        }

        return $readings;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Dns;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Verdict;

/**
 * What name servers say of a name: whether they answer, whether that is what is expected, and whether they agree. Down: none of
 * them answers, or all say that there is no such record. Runs partly: one does not, or says something else than the others or than expected; serials of a
 * zone that differ count too.
 */
final readonly class DnsCheck
{
    /**
     * @param list<string> $servers addresses; none: those of this machine
     * @param list<string> $expects records that must be among the answers, as text
     */
    public function __construct(
        public string $name,
        public string $type,
        public array $servers,
        public array $expects,
        public int $patienceMs,
        public ?int $slowMs = null,
    ) {
    }

    public function judge(DnsAnswer ...$answers): Judgement
    {
        $answers = array_values($answers);
        $good = array_values(array_filter($answers, static fn(DnsAnswer $one): bool => $one->fault === null && $one->records !== []));
        $faults = $this->faults($answers, $good);
        $slowest = $answers === [] ? 0.0 : max(array_column($answers, 'seconds'));
        $verdict = match (true) {
            $answers !== [] && array_all($answers, static fn(DnsAnswer $one): bool => $one->isOurs) => Verdict::Unknown,
            $good === [] => Verdict::Down,
            $faults !== [] => Verdict::Partly,
            default => Verdict::Runs,
        };
        $isSlow = $verdict === Verdict::Runs && $this->slowMs !== null && $slowest * 1000 > $this->slowMs;
        $readings = CheckReading::common($verdict, new Phases(wait: $slowest), $isSlow);
        foreach ($answers as $answer) {
            if ($answer->fault === null) {
                $readings[] = new CheckReading('check_records', (float) count($answer->records), ['server' => $answer->server]);
            }
        }
        foreach ($this->type === 'SOA' ? $good : [] as $answer) {
            $readings[] = new CheckReading('check_zone_serial', (float) self::serial($answer), ['server' => $answer->server]);
        }

        return new Judgement($verdict, $isSlow ? Judgement::slow($slowest, (int) $this->slowMs) : implode('; ', $faults), $readings);
    }

    /**
     * @param list<DnsAnswer> $answers
     * @param list<DnsAnswer> $good
     *
     * @return list<string>
     */
    private function faults(array $answers, array $good): array
    {
        $faults = [];
        foreach ($answers as $answer) {
            if ($answer->fault !== null) {
                $faults[] = "{$answer->server}: {$answer->fault}";
            } elseif ($answer->records === []) {
                $faults[] = "{$answer->server} knows no {$this->type} of {$this->name}";
            }
        }
        foreach ($good as $answer) {
            $missing = array_diff(array_map(self::plain(...), $this->expects), array_map(self::plain(...), $answer->records));
            if ($missing !== []) {
                $faults[] = "{$answer->server} says " . implode(', ', $answer->records) . ', where ' . implode(', ', $missing) . ' is expected';
            }
        }
        $said = [];
        foreach ($good as $answer) {
            $key = $this->type === 'SOA' ? (string) self::serial($answer) : self::together($answer);
            $said[$key][] = $answer->server;
        }
        if (count($said) > 1) {
            $parts = [];
            foreach ($said as $what => $servers) {
                $parts[] = "{$what} (" . implode(', ', $servers) . ')';
            }
            $faults[] = ($this->type === 'SOA' ? 'Their serials differ: ' : 'They do not agree: ') . implode(', ', $parts);
        }

        return $faults;
    }

    private static function together(DnsAnswer $answer): string
    {
        $records = array_map(self::plain(...), $answer->records);
        sort($records);

        return implode(', ', $records);
    }

    /** Names are compared without their case and their last dot. */
    private static function plain(string $record): string
    {
        return strtolower(rtrim(trim($record), '.'));
    }

    /** The third word of `ns1.example hostmaster.example 2026112801 …`. */
    private static function serial(DnsAnswer $answer): int
    {
        return (int) (explode(' ', $answer->records[0] ?? '')[2] ?? 0);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Tls;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;

/**
 * The certificate of a server: how long it lasts, whom it is for, who vouches for it, how strong it is. Down: no TLS at all.
 * Runs partly: a browser would warn.
 */
final readonly class TlsCheck
{
    private const MOST_TOLD = 6;
    private const DAY_MS = 86_400_000;

    /** @param bool $mayBeOurs whether nobody need vouch for it, as with certificates of one's own */
    public function __construct(
        public string $host,
        public int $port,
        public string $name,
        public int $patienceMs,
        public bool $mayBeOurs = false,
    ) {
    }

    public function judge(TlsExchange $exchange, int $nowMs): Judgement
    {
        $faults = $exchange->chain === [] ? [] : $this->faults($exchange, $nowMs);
        $verdict = match (true) {
            $exchange->isOurs => Verdict::Unknown,
            $exchange->chain === [] => Verdict::Down,
            $faults !== [] => Verdict::Partly,
            default => Verdict::Runs,
        };
        $readings = CheckReading::common($verdict, $exchange->phases, false);
        if ($exchange->chain !== []) {
            $left = (min(array_column($exchange->chain, 'untilMs')) - $nowMs) / 1000;
            $readings[] = new CheckReading('check_certificate_left_seconds', $left, unit: 'seconds');
            $readings = [...$readings, ...self::ends($exchange->chain)];
        }
        $words = $exchange->chain === [] ? (string) $exchange->fault : 'The certificate: ' . implode('; ', $faults);

        return new Judgement($verdict, $verdict === Verdict::Runs ? '' : $words, $readings);
    }

    /**
     * @param list<Certificate> $chain
     *
     * @return list<CheckReading> when each of them ends; of two that cannot be told apart, the earlier
     */
    public static function ends(array $chain): array
    {
        $ends = [];
        foreach (array_slice($chain, 0, self::MOST_TOLD) as $one) {
            $key = implode("\n", $one->labels());
            $before = $ends[$key]->value ?? INF;
            $ends[$key] = new CheckReading(Certificate::END, min($before, $one->untilMs / 1000), $one->labels(), unit: 'seconds');
        }

        return array_values($ends);
    }

    /** @return list<string> */
    private function faults(TlsExchange $exchange, int $nowMs): array
    {
        $own = $exchange->chain[0];
        $faults = [];
        foreach ($exchange->chain as $i => $one) {
            $whose = $i === 0 ? 'it' : "that of {$one->subject}, which vouches for it,";
            if ($one->untilMs <= $nowMs) {
                $faults[] = sprintf('%s ended %d days ago', $whose, intdiv($nowMs - $one->untilMs, self::DAY_MS));
            }
            if ($one->fromMs > $nowMs) {
                $faults[] = sprintf('%s is not valid yet, for %d more days', $whose, intdiv($one->fromMs - $nowMs, self::DAY_MS));
            }
            $weakness = $one->weakness();
            if ($weakness !== null) {
                $faults[] = $i === 0 ? $weakness : "of {$one->subject}, {$weakness}";
            }
        }
        if (!$own->isFor($this->name)) {
            $faults[] = "it is for " . ($own->names === [] ? 'nobody' : implode(', ', array_slice($own->names, 0, 5))) . ", not for {$this->name}";
        }
        if ($exchange->isTrusted === false && !$this->mayBeOurs) {
            $faults[] = $own->isSelfIssued() ? 'it is signed by itself, so nobody vouches for it' : 'nobody this machine knows vouches for it';
        }

        return $faults;
    }
}

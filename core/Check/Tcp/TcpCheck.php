<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Tcp;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;

/**
 * A port that answers: connect, send something, expect something. Down: no connection. Runs partly: it takes the connection, and
 * what comes back is not as expected.
 */
final readonly class TcpCheck
{
    public function __construct(
        public string $host,
        public int $port,
        public string $send,
        public Expectation $expects,
        public bool $waits,
        public int $patienceMs,
        public ?int $slowMs = null,
    ) {
    }

    /** @return bool whether what came so far is as expected, so that nothing more is waited for */
    public function isContent(TcpExchange $soFar): bool
    {
        return $this->expects->missing($soFar) === [];
    }

    public function judge(TcpExchange $exchange): Judgement
    {
        $seconds = $exchange->phases->total();
        $missing = $exchange->isConnected && $this->waits ? $this->expects->missing($exchange) : [];
        $verdict = match (true) {
            $exchange->isOurs => Verdict::Unknown,
            !$exchange->isConnected => Verdict::Down,
            $missing !== [] => Verdict::Partly,
            default => Verdict::Runs,
        };
        $words = match (true) {
            !$exchange->isConnected, $exchange->isOurs => (string) $exchange->fault,
            default => ucfirst(implode('; ', $missing)),
        };
        $isSlow = $verdict === Verdict::Runs && $this->slowMs !== null && $seconds * 1000 > $this->slowMs;

        return new Judgement(
            $verdict,
            $isSlow ? Judgement::slow($seconds, (int) $this->slowMs) : $words,
            CheckReading::common($verdict, $exchange->phases, $isSlow),
        );
    }
}

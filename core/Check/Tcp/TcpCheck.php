<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Tcp;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Http\NamedValue;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;

/**
 * A port that answers: connect, send something, expect something. Down: no connection. Runs partly: it takes the connection, and
 * what comes back is not as expected.
 */
final readonly class TcpCheck
{
    /** @param list<NamedValue> $values numbers to keep of what comes back */
    public function __construct(
        public string $host,
        public int $port,
        public string $send,
        public Expectation $expects,
        public bool $waits,
        public int $patienceMs,
        public ?int $slowMs = null,
        public array $values = [],
    ) {
    }

    /** @return bool whether what came so far is as expected, so that nothing more is waited for */
    public function isContent(TcpExchange $soFar): bool
    {
        return $this->expects->missing($soFar) === [] && count($this->numbers($soFar)) === count($this->values);
    }

    /** @return list<CheckReading> */
    private function numbers(TcpExchange $exchange): array
    {
        $found = array_map(static fn(NamedValue $value): ?CheckReading => $value->from($exchange, []), $exchange->isConnected ? $this->values : []);

        return array_values(array_filter($found, static fn(?CheckReading $one): bool => $one !== null));
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
            [...CheckReading::common($verdict, $exchange->phases, $isSlow), ...$this->numbers($exchange)],
        );
    }
}

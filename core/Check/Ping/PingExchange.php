<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Ping;

/** How long each of some echoes took, in the order in which they were sent. */
final readonly class PingExchange
{
    /**
     * @param list<float|null> $seconds there and back; null for one that never came back
     * @param string|null      $fault   why none was sent, as a sentence without a full stop
     * @param bool             $isOurs  whether that is our own fault
     */
    public function __construct(public array $seconds, public ?string $fault = null, public bool $isOurs = false)
    {
    }

    /** @return float 0 to 1 */
    public function loss(): float
    {
        return $this->seconds === [] ? 1.0 : count(array_filter($this->seconds, is_null(...))) / count($this->seconds);
    }

    /** @return float|null the mean, there and back, in seconds */
    public function latency(): ?float
    {
        $there = $this->back();

        return $there === [] ? null : array_sum($there) / count($there);
    }

    /**
     * How much one differs from the one before, on average, as the receivers of voice have it (RFC 3550, 6.4.1, without its
     * smoothing). By example, 20, 26, 22 ms: (6 + 4) / 2 = 5 ms.
     */
    public function jitter(): ?float
    {
        $there = $this->back();
        $steps = [];
        for ($i = 1; $i < count($there); ++$i) {
            $steps[] = abs($there[$i] - $there[$i - 1]);
        }

        return $steps === [] ? null : array_sum($steps) / count($steps);
    }

    /** @return list<float> */
    private function back(): array
    {
        return array_values(array_filter($this->seconds, static fn(?float $one): bool => $one !== null));
    }
}

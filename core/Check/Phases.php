<?php

declare(strict_types=1);

namespace Olivine\Core\Check;

/**
 * Where the time of one exchange went, in seconds; a phase that was not come to, or not needed, is null.
 *
 * With the name found after 24 ms, connected after 31, TLS agreed after 60, the first byte after 260 and the last after 304 the
 * phases are 0.024, 0.007, 0.029, 0.200 and 0.044, together 0.304.
 */
final readonly class Phases implements \JsonSerializable
{
    public function __construct(
        public ?float $name = null,
        public ?float $connect = null,
        public ?float $tls = null,
        public ?float $wait = null,
        public ?float $transfer = null,
    ) {
    }

    /**
     * Of points in time, each counted from the beginning; 0 where it was not come to.
     *
     * @param float $name before the connection began, on finding the name
     */
    public static function ofPoints(float $name, float $connected, float $agreed, float $firstByte, float $end): self
    {
        $ready = max($connected, $agreed);

        return new self(
            name: $name > 0.0 ? $name : null,
            connect: $connected > 0.0 ? max(0.0, $connected) : null,
            tls: $agreed > 0.0 ? max(0.0, $agreed - $connected) : null,
            wait: $firstByte > 0.0 ? max(0.0, $firstByte - $ready) : null,
            transfer: $firstByte > 0.0 ? max(0.0, $end - $firstByte) : null,
        );
    }

    /** Of two exchanges one after the other. */
    public function and(self $then): self
    {
        $sum = static fn(?float $one, ?float $other): ?float => $one === null && $other === null ? null : (float) $one + (float) $other;

        return new self(
            $sum($this->name, $then->name),
            $sum($this->connect, $then->connect),
            $sum($this->tls, $then->tls),
            $sum($this->wait, $then->wait),
            $sum($this->transfer, $then->transfer),
        );
    }

    /** @return array<string, float> those that there are, in their order */
    public function named(): array
    {
        return array_filter(
            ['name' => $this->name, 'connect' => $this->connect, 'tls' => $this->tls, 'wait' => $this->wait, 'transfer' => $this->transfer],
            static fn(?float $seconds): bool => $seconds !== null,
        );
    }

    /** @return object those that there are */
    public function jsonSerialize(): object
    {
        return (object) $this->named();
    }

    public function total(): float
    {
        return array_sum($this->named());
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Instant;

/** Who would hear of what a path answers for, all through a stretch of time. */
final readonly class Covered
{
    /**
     * @param bool                      $answers whether the path answers then; outside its hours another one does
     * @param list<array{int, string}>  $told    at once: who, and by which way
     * @param list<array{int, Instant}> $later   who waits until when, as it is in their quiet hours
     * @param list<string>              $empty   rungs that reach nobody and fall through: `rung 1 reaches nobody: …`
     */
    public function __construct(
        public Instant $from,
        public Instant $to,
        public bool $answers,
        public array $told,
        public array $later,
        public array $empty,
    ) {
    }

    public function isGap(): bool
    {
        return $this->answers && ($this->empty !== [] || $this->told === []);
    }

    public function isAs(self $other): bool
    {
        $words = static fn(self $one): array => [$one->answers, $one->told, array_column($one->later, 0), $one->empty];

        return $words($this) === $words($other);
    }

    public function through(Instant $to): self
    {
        return new self($this->from, $to, $this->answers, $this->told, $this->later, $this->empty);
    }
}

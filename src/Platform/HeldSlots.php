<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** The shares of a part's work that a copy of it holds at the moment. */
final readonly class HeldSlots
{
    /** @param array<int, int> $epochs slot → fencing number: one that came back after another had it is not the same */
    public function __construct(public PartName $part, public array $epochs)
    {
    }

    public static function none(PartName $part): self
    {
        return new self($part, []);
    }

    public function isNone(): bool
    {
        return $this->epochs === [];
    }

    /** @return list<int> */
    public function numbers(): array
    {
        return array_keys($this->epochs);
    }

    /** Whether a target, a rule or an incident is ours to work on. */
    public function has(int $id): bool
    {
        return isset($this->epochs[$this->part->slotOf($id)]);
    }

    /** Whether what cannot be shared is ours: it belongs to the first slot. */
    public function hasFirst(): bool
    {
        return isset($this->epochs[0]);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** Those who may be told, by what they are known by. */
final readonly class People
{
    /**
     * @param array<string, int>       $byAddress their ids
     * @param array<string, list<int>> $byRole
     */
    public function __construct(private array $byAddress = [], private array $byRole = [])
    {
    }

    public function at(string $address): ?int
    {
        return $this->byAddress[$address] ?? null;
    }

    /** @return list<int> */
    public function ofRole(string $role): array
    {
        return $this->byRole[$role] ?? [];
    }
}

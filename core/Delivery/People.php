<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** Those who may be told, by what they are known by. */
final readonly class People
{
    /**
     * @param array<string, int>       $byAddress their ids
     * @param array<string, list<int>> $byRole
     * @param array<string, list<int>> $byTeam
     * @param array<string, int>       $byName
     * @param array<int, Wishes>       $wishes    of those who have some
     */
    public function __construct(
        private array $byAddress = [],
        private array $byRole = [],
        private array $byTeam = [],
        private array $byName = [],
        private array $wishes = [],
    ) {
    }

    /** @return list<int> */
    public function at(string $address): array
    {
        return isset($this->byAddress[$address]) ? [$this->byAddress[$address]] : [];
    }

    /** @return list<int> */
    public function ofRole(string $role): array
    {
        return $this->byRole[$role] ?? [];
    }

    /** @return list<int> */
    public function ofTeam(string $team): array
    {
        return $this->byTeam[$team] ?? [];
    }

    /**
     * Who owns a rule is written in words: a team, or a person by name or address.
     *
     * @return list<int>
     */
    public function meant(string $words): array
    {
        return $this->byTeam[$words] ?? (isset($this->byName[$words]) ? [$this->byName[$words]] : $this->at($words));
    }

    public function wishesOf(int $person): Wishes
    {
        return $this->wishes[$person] ?? new Wishes();
    }
}

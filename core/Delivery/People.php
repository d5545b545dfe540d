<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\WeekHours;

/** Those who may be told, by what they are known by. */
final readonly class People
{
    /**
     * @param array<string, int>       $byAddress their ids
     * @param array<string, list<int>> $byRole
     * @param array<string, list<int>> $byTeam
     * @param array<string, int>       $byName
     * @param array<int, Wishes>       $wishes    of those who have some
     * @param array<int, list<string>> $ways      of their own, beside those that all have
     */
    public function __construct(
        private array $byAddress = [],
        private array $byRole = [],
        private array $byTeam = [],
        private array $byName = [],
        private array $wishes = [],
        private array $ways = [],
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

    /** @return list<WeekHours> in which somebody does not want to be told */
    public function quiet(): array
    {
        $quiet = array_map(static fn(Wishes $one): ?WeekHours => $one->quiet, $this->wishes);

        return array_values(array_filter($quiet, static fn(?WeekHours $one): bool => $one !== null));
    }

    /**
     * The same where one more team has one member: whoever stands for those that are not known yet.
     *
     * @param string $team that nobody's is called
     */
    public function withStandIn(string $team, int $person): self
    {
        return new self($this->byAddress, $this->byRole, [$team => [$person]] + $this->byTeam, $this->byName, $this->wishes, $this->ways);
    }

    /** @return list<string> ways of their own, beside those that all have */
    public function waysOf(int $person): array
    {
        return $this->ways[$person] ?? [];
    }

    public function wishesOf(int $person): Wishes
    {
        return $this->wishes[$person] ?? new Wishes();
    }
}

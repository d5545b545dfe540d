<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Instant;

/** The rosters that there are, by name; where none is named the first one is meant. */
final readonly class Rosters
{
    /** @param array<array-key, RosterHistory> $byName */
    public function __construct(private array $byName = [])
    {
    }

    /** @return list<string> */
    public function names(): array
    {
        return array_map(strval(...), array_keys($this->byName));
    }

    /** @param string $name empty: the first one */
    public function named(string $name): ?RosterHistory
    {
        return $name === '' ? array_values($this->byName)[0] ?? null : $this->byName[$name] ?? null;
    }

    public function isEmpty(): bool
    {
        return $this->byName === [];
    }

    /** @return int|null null where there is no such roster, or nobody is on call by it */
    public function onCall(string $name, Instant $at): ?int
    {
        return $this->named($name)?->at($at)->person;
    }

    /** @return int|null null where there is no such roster, or nobody else will be on call by it in the next months */
    public function next(string $name, Instant $at): ?int
    {
        return $this->named($name)?->next($at);
    }
}

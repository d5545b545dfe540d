<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Instant;

/** Who is on call within `[from, to)`, and why; or why nobody is. */
final readonly class Shift
{
    /**
     * @param int|null    $person   null: nobody
     * @param string|null $rotation that names them; null where nobody is
     * @param int|null    $for      in whose place
     * @param list<int>   $away     whom rotations name then, and who are absent without a cover, the uppermost rotation first
     */
    public function __construct(
        public Instant $from,
        public Instant $to,
        public ?int $person,
        public ?string $rotation,
        public ?int $for = null,
        public array $away = [],
    ) {
    }

    public function isGap(): bool
    {
        return $this->person === null;
    }

    /**
     * `rotation nights`, `rotation days, covers for Ines`, `nobody: Oyelaran is away`, `nobody: no rotation has hours then`.
     *
     * @param callable(int): string $name
     */
    public function because(callable $name): string
    {
        if ($this->person !== null) {
            $for = $this->for === null ? '' : ", covers for {$name($this->for)}";

            return "rotation {$this->rotation}{$for}";
        }
        $away = implode(' and ', array_map($name, $this->away));
        $are = count($this->away) === 1 ? 'is' : 'are';

        return $this->away === [] ? 'nobody: no rotation has hours then' : "nobody: {$away} {$are} away";
    }

    public function isAs(self $other): bool
    {
        return [$this->person, $this->rotation, $this->for, $this->away] === [$other->person, $other->rotation, $other->for, $other->away];
    }

    public function through(Instant $to): self
    {
        return new self($this->from, $to, $this->person, $this->rotation, $this->for, $this->away);
    }
}

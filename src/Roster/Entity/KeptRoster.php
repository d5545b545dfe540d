<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\Core\Time\Instant;

/** A roster: what it says, and from when on, stands in its revisions. */
#[ORM\Entity(repositoryClass: RosterRepository::class)]
#[ORM\Table(name: 'roster')]
#[ORM\UniqueConstraint(name: 'roster_name', columns: ['name'])]
class KeptRoster
{
    public const NAME_LENGTH = 80;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** In which order they are listed; the first one is meant where none is named. */
    #[ORM\Column]
    public int $place;

    /** Who was on call by a removed roster is known all the same; its name is free for another one. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $removedAt = null;

    public function __construct(
        #[ORM\Column(length: self::NAME_LENGTH)]
        public string $name,
        int $place,
    ) {
        $this->place = $place;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The roster is not saved yet');
    }
}

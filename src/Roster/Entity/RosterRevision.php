<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Roster\Repository\RosterRevisionRepository;
use Olivine\Core\Time\Instant;

/** One state of a roster: by whom, why, and from which instant on it holds. It is never changed. */
#[ORM\Entity(repositoryClass: RosterRevisionRepository::class)]
#[ORM\Table(name: 'roster_revision')]
#[ORM\UniqueConstraint(name: 'roster_revision_number', columns: ['roster_id', 'number'])]
class RosterRevision
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /**
     * @param int                  $number     from 1 on
     * @param array<string, mixed> $definition as it is written in a request
     * @param array<string, int>   $people     address → whose it was when this was made
     * @param Instant              $holdsFrom  not before it was made
     */
    public function __construct(
        #[ORM\Column]
        public int $rosterId,
        #[ORM\Column(type: 'integer')]
        public int $number,
        #[ORM\Column(type: 'json')]
        public array $definition,
        #[ORM\Column(type: 'json')]
        public array $people,
        #[ORM\Column(nullable: true)]
        public ?int $authorId,
        #[ORM\Column(length: 300)]
        public string $reason,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
        #[ORM\Column(type: 'instant')]
        public Instant $holdsFrom,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The revision is not saved yet');
    }
}

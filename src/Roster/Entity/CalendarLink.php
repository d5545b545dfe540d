<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Roster\Repository\CalendarLinkRepository;
use Olivine\Core\Time\Instant;

/** A secret address at which shifts can be subscribed to, until it is ended. */
#[ORM\Entity(repositoryClass: CalendarLinkRepository::class)]
#[ORM\Table(name: 'calendar_link')]
#[ORM\UniqueConstraint(name: 'calendar_link_digest', columns: ['digest'])]
class CalendarLink
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $endedAt = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $usedAt = null;

    /**
     * @param int      $personId whose it is
     * @param int|null $rosterId null: their own shifts, by all rosters
     */
    public function __construct(
        #[ORM\Column]
        public int $personId,
        #[ORM\Column(nullable: true)]
        public ?int $rosterId,
        #[ORM\Column(length: 64)]
        public string $digest,
        #[ORM\Column(type: 'instant')]
        public Instant $madeAt,
    ) {
    }
}

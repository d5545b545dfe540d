<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Roster\Repository\AbsenceRepository;
use Olivine\Core\Roster\Absence;
use Olivine\Core\Time\Instant;

/** Somebody is away: from all rosters, unless one is named. */
#[ORM\Entity(repositoryClass: AbsenceRepository::class)]
#[ORM\Table(name: 'roster_absence')]
#[ORM\Index(name: 'roster_absence_ends', columns: ['to_at'])]
class KeptAbsence
{
    public const NOTE_LENGTH = 300;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** Null: of all rosters. */
    #[ORM\Column(nullable: true)]
    public ?int $rosterId = null;

    /** The calendar that says so; null where it was entered by hand. */
    #[ORM\Column(nullable: true)]
    public ?int $calendarId = null;

    /** Under which key it stands in files; "" where it does not. */
    #[ORM\Column(length: 200)]
    public string $ofFile = '';

    public function __construct(
        #[ORM\Column]
        public int $personId,
        #[ORM\Column(type: 'instant')]
        public Instant $fromAt,
        #[ORM\Column(type: 'instant')]
        public Instant $toAt,
        #[ORM\Column(length: self::NOTE_LENGTH)]
        public string $note,
        #[ORM\Column(nullable: true)]
        public ?int $byId,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The absence is not saved yet');
    }

    /** @return Absence|null as it counts: what was before it was said is not changed by it; null where nothing is left */
    public function core(): ?Absence
    {
        $from = $this->fromAt->later($this->at);

        return $from->isBefore($this->toAt) ? new Absence($this->personId, $from, $this->toAt) : null;
    }
}

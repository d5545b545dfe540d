<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Roster\CoverState;
use Olivine\App\Roster\Repository\CoverRepository;
use Olivine\Core\Roster\Cover;
use Olivine\Core\Time\Instant;

/** Somebody stands in for somebody else on a roster, or was asked to. */
#[ORM\Entity(repositoryClass: CoverRepository::class)]
#[ORM\Table(name: 'roster_cover')]
#[ORM\Index(name: 'roster_cover_ends', columns: ['to_at'])]
class KeptCover
{
    public const NOTE_LENGTH = 300;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** From when on it is agreed: it changes nothing before. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $agreedAt = null;

    /** The other half of a swap: both are answered at once. */
    #[ORM\Column(nullable: true)]
    public ?int $swapId = null;

    /** Under which key it stands in files; "" where it was made by hand. */
    #[ORM\Column(length: 200)]
    public string $ofFile = '';

    public function __construct(
        #[ORM\Column]
        public int $rosterId,
        #[ORM\Column]
        public int $personId,
        #[ORM\Column]
        public int $forId,
        #[ORM\Column(type: 'instant')]
        public Instant $fromAt,
        #[ORM\Column(type: 'instant')]
        public Instant $toAt,
        #[ORM\Column(length: 12, enumType: CoverState::class)]
        public CoverState $state,
        #[ORM\Column(length: self::NOTE_LENGTH)]
        public string $note,
        #[ORM\Column(nullable: true)]
        public ?int $askedBy,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
        $this->agreedAt = $state->takesPlace() ? $at : null;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The cover is not saved yet');
    }

    /** @return Cover|null as it counts: from when it was agreed on; null where it changes nothing */
    public function core(): ?Cover
    {
        if ($this->agreedAt === null || !$this->state->takesPlace()) {
            return null;
        }
        $from = $this->fromAt->later($this->agreedAt);

        return $from->isBefore($this->toAt) ? new Cover($this->personId, $this->forId, $from, $this->toAt) : null;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Roster\Repository\HandoverNoteRepository;
use Olivine\Core\Time\Instant;

/** What whoever is on call tells whoever comes next. */
#[ORM\Entity(repositoryClass: HandoverNoteRepository::class)]
#[ORM\Table(name: 'handover_note')]
class HandoverNote
{
    public const LONGEST = 4_000;

    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    public function __construct(
        #[ORM\Id, ORM\Column]
        public int $rosterId,
        #[ORM\Column(type: 'text')]
        public string $text,
        #[ORM\Column]
        public int $personId,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
    }
}

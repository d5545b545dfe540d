<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\PlanRevisionRepository;
use Olivine\Core\Time\Instant;

/** One state of what is set up of who hears: by whom, when and why. The one with the highest number is in service. */
#[ORM\Entity(repositoryClass: PlanRevisionRepository::class)]
#[ORM\Table(name: 'plan_revision')]
#[ORM\UniqueConstraint(name: 'plan_revision_number', columns: ['number'])]
class PlanRevision
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /**
     * @param int                  $number     from 1 on
     * @param array<string, mixed> $definition as it is written in a request
     */
    public function __construct(
        #[ORM\Column(type: 'integer')]
        public int $number,
        #[ORM\Column(type: 'json')]
        public array $definition,
        #[ORM\Column(nullable: true)]
        public ?int $authorId,
        #[ORM\Column(length: 300)]
        public string $reason,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\PlanDraftRepository;
use Olivine\Core\Time\Instant;

/** What people change of who hears before it is in service: one, which all of them share. */
#[ORM\Entity(repositoryClass: PlanDraftRepository::class)]
#[ORM\Table(name: 'plan_draft')]
class PlanDraft
{
    public const ONLY = 1;

    #[ORM\Id, ORM\Column]
    public int $id = self::ONLY;

    /** Counts the changes. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    /**
     * @param array<string, mixed> $definition as it is written in a request
     * @param int                  $base       number of the revision that it began from; 0: as it was installed
     */
    public function __construct(
        #[ORM\Column(type: 'json')]
        public array $definition,
        #[ORM\Column(type: 'integer')]
        public int $base,
        #[ORM\Column(nullable: true)]
        public ?int $authorId,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\ActionRunRepository;
use Olivine\Core\Time\Instant;

/** An action that was done, and what came of it; kept when it begins, so that one whose answer was lost is seen too. */
#[ORM\Entity(repositoryClass: ActionRunRepository::class)]
#[ORM\Table(name: 'action_run')]
#[ORM\Index(name: 'action_run_incident', columns: ['incident_id'])]
#[ORM\Index(name: 'action_run_target', columns: ['target'])]
class ActionRun
{
    public const OUTPUT_LENGTH = 16_000;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $endedAt = null;

    /** Null while nobody knows. */
    #[ORM\Column(nullable: true)]
    public ?bool $done = null;

    #[ORM\Column(type: 'text')]
    public string $output = '';

    /**
     * @param string $name   of the action, as it was
     * @param string $target "": none
     */
    public function __construct(
        #[ORM\Column]
        public int $actionId,
        #[ORM\Column(length: PreparedAction::NAME_LENGTH)]
        public string $name,
        #[ORM\Column(nullable: true)]
        public ?int $incidentId,
        #[ORM\Column(length: 120)]
        public string $target,
        #[ORM\Column]
        public int $personId,
        #[ORM\Column(type: 'instant')]
        public Instant $begunAt,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The run is not saved yet');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\ActionRun;

/** @extends ServiceEntityRepository<ActionRun> */
final class ActionRunRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, ActionRun::class);
    }

    /** @return list<ActionRun> the newest first */
    public function ofIncident(int $incident, int $most): array
    {
        return $this->findBy(['incidentId' => $incident], ['id' => 'DESC'], $most);
    }

    /** @return list<ActionRun> the newest first */
    public function ofTarget(string $target, int $most): array
    {
        return $this->findBy(['target' => $target], ['id' => 'DESC'], $most);
    }
}

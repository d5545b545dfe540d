<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\DBAL\LockMode;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\PlanDraft;

/** @extends ServiceEntityRepository<PlanDraft> */
final class PlanDraftRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, PlanDraft::class);
    }

    public function there(): ?PlanDraft
    {
        return $this->find(PlanDraft::ONLY);
    }

    /** Nobody else changes it until the transaction is over. */
    public function held(): ?PlanDraft
    {
        return $this->find(PlanDraft::ONLY, LockMode::PESSIMISTIC_WRITE);
    }
}

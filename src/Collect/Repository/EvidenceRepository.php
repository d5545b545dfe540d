<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Collect\Entity\Evidence;

/** @extends ServiceEntityRepository<Evidence> */
final class EvidenceRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Evidence::class);
    }

    /** @return list<Evidence> the newest first */
    public function lastOf(int $targetId, int $most): array
    {
        return $this->findBy(['targetId' => $targetId], ['at' => 'DESC', 'id' => 'DESC'], $most);
    }
}

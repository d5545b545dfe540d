<?php

declare(strict_types=1);

namespace Olivine\App\People\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\People\Entity\AuditEntry;

/**
 * @extends ServiceEntityRepository<AuditEntry>
 */
final class AuditRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, AuditEntry::class);
    }

    /** @return list<AuditEntry> the newest first */
    public function newest(int $most): array
    {
        return $this->findBy([], ['id' => 'DESC'], $most);
    }
}

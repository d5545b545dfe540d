<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\PlanRevision;
use Olivine\App\Platform\Problem;

/** @extends ServiceEntityRepository<PlanRevision> */
final class PlanRevisionRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, PlanRevision::class);
    }

    /** @return int of the one in service; 0: none was kept yet */
    public function newestNumber(): int
    {
        return (int) $this->createQueryBuilder('r')->select('MAX(r.number)')->getQuery()->getSingleScalarResult();
    }

    /** @throws Problem 404 */
    public function numbered(int $number): PlanRevision
    {
        return $this->findOneBy(['number' => $number]) ?? throw new Problem(404, "There is no revision {$number}");
    }

    /** @return list<PlanRevision> the newest first */
    public function newest(int $most): array
    {
        return $this->findBy([], ['number' => 'DESC'], $most);
    }
}

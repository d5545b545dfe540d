<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Problem;
use Olivine\App\Recipe\Entity\Finding;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<Finding> */
final class FindingRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Finding::class);
    }

    /** @return list<Finding> those that are so now, the oldest first */
    public function there(): array
    {
        return $this->findBy(['goneAt' => null], ['firstAt' => 'ASC', 'id' => 'ASC']);
    }

    public function forgetGoneBefore(Instant $at): void
    {
        $this->createQueryBuilder('f')->delete()->where('f.goneAt < :at')->setParameter('at', $at, 'instant')->getQuery()->execute();
    }

    /** @throws Problem 404 */
    public function one(int $id): Finding
    {
        $finding = $this->find($id);

        return $finding !== null && $finding->goneAt === null ? $finding : throw new Problem(404, "There is no finding {$id} any more");
    }
}

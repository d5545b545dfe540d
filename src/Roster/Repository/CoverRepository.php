<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Entity\KeptCover;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<KeptCover> */
final class CoverRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, KeptCover::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): KeptCover
    {
        return $this->find($id) ?? throw new Problem(404, "There is no cover {$id}");
    }

    /** @return list<KeptCover> that are not over at an instant, in the order in which they were made */
    public function notOver(Instant $at): array
    {
        /** @var list<KeptCover> */
        return $this->createQueryBuilder('c')
            ->where('c.toAt > :at')
            ->orderBy('c.id')
            ->setParameter('at', $at, 'instant')
            ->getQuery()
            ->getResult();
    }
}

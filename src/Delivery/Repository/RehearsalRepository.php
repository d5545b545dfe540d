<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\DBAL\LockMode;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\Rehearsal;
use Olivine\App\Platform\Problem;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<Rehearsal> */
final class RehearsalRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Rehearsal::class);
    }

    /**
     * As it is now, and nobody else changes it until the transaction is over.
     *
     * @throws Problem 404
     */
    public function held(int $id): Rehearsal
    {
        $found = $this->find($id) ?? throw new Problem(404, "There is no rehearsal {$id}");
        $this->getEntityManager()->refresh($found, LockMode::PESSIMISTIC_WRITE);

        return $found;
    }

    /** @return list<int> that are not over, and have begun or were asked for before then */
    public function lookedAt(Instant $askedBefore): array
    {
        /** @var list<int> */
        return $this->createQueryBuilder('r')
            ->select('r.id')
            ->where('r.endedAt IS NULL AND (r.begunAt IS NOT NULL OR r.askedAt < :before)')
            ->setParameter('before', $askedBefore->ms)
            ->orderBy('r.id')
            ->getQuery()
            ->getSingleColumnResult();
    }

    /** @return int how many are asked for or under way */
    public function notOver(): int
    {
        return $this->count(['endedAt' => null]);
    }

    /** @return list<Rehearsal> the newest first */
    public function newest(int $most): array
    {
        return $this->findBy([], ['id' => 'DESC'], $most);
    }
}

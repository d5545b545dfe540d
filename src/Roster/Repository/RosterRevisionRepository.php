<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\DBAL\LockMode;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Roster\Entity\RosterRevision;

/** @extends ServiceEntityRepository<RosterRevision> */
final class RosterRevisionRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, RosterRevision::class);
    }

    /** @return array<int, non-empty-list<RosterRevision>> of each roster, in the order in which they were made */
    public function byRoster(): array
    {
        $byRoster = [];
        foreach ($this->findBy([], ['rosterId' => 'ASC', 'number' => 'ASC']) as $one) {
            $byRoster[$one->rosterId][] = $one;
        }

        return $byRoster;
    }

    /** @return list<RosterRevision> the newest first */
    public function of(int $roster): array
    {
        return $this->findBy(['rosterId' => $roster], ['number' => 'DESC']);
    }

    /** As it is by now, whatever this transaction read before; nobody adds another one until it ends. */
    public function newestHeld(int $roster): RosterRevision
    {
        $newest = $this->createQueryBuilder('r')
            ->where('r.rosterId = :roster')
            ->orderBy('r.number', 'DESC')
            ->setParameter('roster', $roster)
            ->setMaxResults(1)
            ->getQuery()
            ->setLockMode(LockMode::PESSIMISTIC_WRITE)
            ->getOneOrNullResult();

        return $newest instanceof RosterRevision ? $newest : throw new \LogicException('A roster has a revision');
    }

    public function newest(int $roster): RosterRevision
    {
        return $this->of($roster)[0] ?? throw new \LogicException('A roster has a revision');
    }
}

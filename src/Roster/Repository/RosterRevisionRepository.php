<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
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

    public function newest(int $roster): RosterRevision
    {
        return $this->of($roster)[0] ?? throw new \LogicException('A roster has a revision');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Entity\AbsenceCalendar;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<AbsenceCalendar> */
final class AbsenceCalendarRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, AbsenceCalendar::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): AbsenceCalendar
    {
        return $this->find($id) ?? throw new Problem(404, "There is no calendar {$id}");
    }

    /** @return list<AbsenceCalendar> of one person; null: those of the site */
    public function of(?int $person): array
    {
        return $this->findBy(['personId' => $person], ['id' => 'ASC']);
    }

    /** @return list<AbsenceCalendar> at an address that were not tried since, the longest ago first */
    public function due(Instant $before, int $most): array
    {
        /** @var list<AbsenceCalendar> */
        return $this->createQueryBuilder('c')
            ->where('c.url IS NOT NULL AND (c.triedAt IS NULL OR c.triedAt < :before)')
            ->orderBy('c.triedAt')
            ->setParameter('before', $before->ms)
            ->setMaxResults($most)
            ->getQuery()
            ->getResult();
    }

    /** @return array<int, string> id → name */
    public function names(): array
    {
        /** @var array<int, string> */
        return array_column($this->createQueryBuilder('c')->select('c.id', 'c.name')->getQuery()->getScalarResult(), 'name', 'id');
    }
}

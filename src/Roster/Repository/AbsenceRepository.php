<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Entity\KeptAbsence;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<KeptAbsence> */
final class AbsenceRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, KeptAbsence::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): KeptAbsence
    {
        return $this->find($id) ?? throw new Problem(404, "There is no absence {$id}");
    }

    /** @return list<KeptAbsence> that a calendar says, and that are not over at an instant */
    public function ofCalendar(int $calendar, Instant $at): array
    {
        return array_values(array_filter($this->notOver($at), static fn(KeptAbsence $one): bool => $one->calendarId === $calendar));
    }

    /** @return list<KeptAbsence> that are not over at an instant, in the order in which they begin */
    public function notOver(Instant $at): array
    {
        /** @var list<KeptAbsence> */
        return $this->createQueryBuilder('a')
            ->where('a.toAt > :at')
            ->orderBy('a.fromAt')
            ->addOrderBy('a.id')
            ->setParameter('at', $at, 'instant')
            ->getQuery()
            ->getResult();
    }
}

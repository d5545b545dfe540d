<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Entity\CalendarLink;

/** @extends ServiceEntityRepository<CalendarLink> */
final class CalendarLinkRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, CalendarLink::class);
    }

    public function withDigest(string $digest): ?CalendarLink
    {
        return $this->findOneBy(['digest' => $digest, 'endedAt' => null]);
    }

    /** @return list<CalendarLink> of one person that were not ended */
    public function of(int $person): array
    {
        return $this->findBy(['personId' => $person, 'endedAt' => null], ['id' => 'ASC']);
    }

    /** @throws Problem 404 */
    public function there(int $id, int $person): CalendarLink
    {
        return $this->findOneBy(['id' => $id, 'personId' => $person, 'endedAt' => null]) ?? throw new Problem(404, 'There is no such subscription');
    }
}

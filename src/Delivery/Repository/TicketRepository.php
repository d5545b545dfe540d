<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\Ticket;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<Ticket> */
final class TicketRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Ticket::class);
    }

    public function at(string $channel, int $incident): ?Ticket
    {
        return $this->findOneBy(['channel' => $channel, 'incidentId' => $incident]);
    }

    /** @return list<Ticket> of an incident, by channel */
    public function of(int $incident): array
    {
        return $this->findBy(['incidentId' => $incident], ['channel' => 'ASC']);
    }

    /**
     * @param Instant $before looked at last
     *
     * @return list<Ticket> of incidents that are open, those first that were not looked at for the longest
     */
    public function stale(Instant $before, int $most): array
    {
        /** @var list<Ticket> */
        return $this->createQueryBuilder('t')
            ->join(Incident::class, 'i', 'WITH', 'i.id = t.incidentId')
            ->where('t.lookedAt < :before AND i.status <> :over')
            ->orderBy('t.lookedAt')
            ->setParameter('before', $before->ms)
            ->setParameter('over', IncidentStatus::Resolved->value)
            ->setMaxResults($most)
            ->getQuery()
            ->getResult();
    }
}

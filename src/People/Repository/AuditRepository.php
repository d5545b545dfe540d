<?php

declare(strict_types=1);

namespace Olivine\App\People\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\People\Entity\AuditEntry;
use Olivine\Core\Time\Instant;

/**
 * @extends ServiceEntityRepository<AuditEntry>
 */
final class AuditRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, AuditEntry::class);
    }

    /**
     * @param int|null     $person whose changes, null: of all
     * @param Instant|null $until  nothing after it
     *
     * @return list<AuditEntry> the newest first
     */
    public function newest(int $most, ?int $person = null, ?Instant $until = null): array
    {
        $asked = $this->createQueryBuilder('e')->orderBy('e.id', 'DESC')->setMaxResults($most);
        if ($person !== null) {
            $asked->andWhere('e.personId = :person')->setParameter('person', $person);
        }
        if ($until !== null) {
            $asked->andWhere('e.at <= :until')->setParameter('until', $until->ms);
        }

        /** @var list<AuditEntry> */
        return $asked->getQuery()->getResult();
    }

    /**
     * @param list<string> $kinds of what was changed: the first word of its subject
     *
     * @return list<AuditEntry> the newest first
     */
    public function between(Instant $from, Instant $to, array $kinds, int $most): array
    {
        $ofKind = array_map(static fn(int $place): string => "e.subject LIKE :kind{$place}", array_keys($kinds));
        $asked = $this->createQueryBuilder('e')
            ->where('e.at >= :from AND e.at <= :to')
            ->andWhere('(' . implode(' OR ', $ofKind) . ')')
            ->orderBy('e.at', 'DESC')
            ->setParameter('from', $from->ms)
            ->setParameter('to', $to->ms)
            ->setMaxResults($most);
        foreach ($kinds as $place => $kind) {
            $asked->setParameter("kind{$place}", "{$kind}%");
        }

        /** @var list<AuditEntry> */
        return $asked->getQuery()->getResult();
    }
}

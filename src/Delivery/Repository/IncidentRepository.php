<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\Query;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Delivery\IncidentPlace;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/**
 * @extends ServiceEntityRepository<Incident>
 */
final class IncidentRepository extends ServiceEntityRepository
{
    private const MOST_WORDS = 8;

    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Incident::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): Incident
    {
        return $this->find($id) ?? throw new Problem(404, "There is no incident {$id}");
    }

    /** @return list<Incident> the newest first: all that are not resolved, and what was open since then */
    public function seenBetween(Instant $from, Instant $now, int $most): array
    {
        /** @var list<Incident> $found */
        $found = $this->createQueryBuilder('i')
            ->where('i.rehearsedWith IS NULL')
            ->andWhere('i.status <> :resolved OR (i.openedAt <= :now AND (i.resolvedAt IS NULL OR i.resolvedAt >= :from))')
            ->setParameter('resolved', IncidentStatus::Resolved->value)
            ->setParameter('from', $from->ms)
            ->setParameter('now', $now->ms)
            ->addSelect('CASE WHEN i.resolvedAt IS NULL THEN 0 ELSE 1 END AS HIDDEN done')
            ->orderBy('done')
            ->addOrderBy('i.openedAt', 'DESC')
            ->setMaxResults($most)
            ->getQuery()
            ->getResult();
        usort($found, static fn(Incident $a, Incident $b): int => $b->openedAt <=> $a->openedAt);

        return $found;
    }

    /**
     * @param string   $words  all of which the title, the service or the number must have
     * @param int|null $before only those that opened before this one did
     *
     * @return list<Incident> the newest first
     */
    public function searched(string $words, ?Severity $severity, ?int $before, int $most): array
    {
        $asked = $this->createQueryBuilder('i')
            ->where('i.rehearsedWith IS NULL')
            ->orderBy('i.openedAt', 'DESC')
            ->addOrderBy('i.id', 'DESC')
            ->setMaxResults($most);
        $each = array_slice(preg_split('~\s+~u', trim($words), -1, PREG_SPLIT_NO_EMPTY) ?: [], 0, self::MOST_WORDS);
        foreach ($each as $place => $word) {
            $asked->andWhere("i.title LIKE :word{$place} OR i.service LIKE :word{$place} OR i.id = :number{$place}")
                ->setParameter("word{$place}", '%' . addcslashes($word, '%_\\') . '%')
                ->setParameter("number{$place}", ctype_digit($word) ? (int) $word : 0);
        }
        if ($severity !== null) {
            $asked->andWhere('i.severity = :severity')->setParameter('severity', $severity->value);
        }
        $last = $before === null ? null : $this->find($before);
        if ($last !== null) {
            $asked->andWhere('i.openedAt < :at OR (i.openedAt = :at AND i.id < :last)')
                ->setParameter('at', $last->openedAt->ms)
                ->setParameter('last', $last->id());
        }

        /** @var list<Incident> */
        return $asked->getQuery()->getResult();
    }

    /** @return list<Incident> the newest first: those with an alert of this target */
    public function ofTarget(string $target, int $most): array
    {
        /** @var list<Incident> */
        return $this->createQueryBuilder('i')
            ->where('i.id IN (SELECT a.incidentId FROM ' . IncidentAlert::class . ' a WHERE a.target = :target)')
            ->andWhere('i.rehearsedWith IS NULL')
            ->setParameter('target', $target)
            ->orderBy('i.openedAt', 'DESC')
            ->setMaxResults($most)
            ->getQuery()
            ->getResult();
    }

    /** @return list<Incident> in earnest, the newest first */
    public function openedBetween(Instant $from, Instant $to, int $most): array
    {
        /** @var list<Incident> */
        return $this->createQueryBuilder('i')
            ->where('i.rehearsedWith IS NULL AND i.openedAt >= :from AND i.openedAt <= :to')
            ->orderBy('i.openedAt', 'DESC')
            ->setParameter('from', $from->ms)
            ->setParameter('to', $to->ms)
            ->setMaxResults($most)
            ->getQuery()
            ->getResult();
    }

    /** @return array<string, int> path → how many it answers for that are not over */
    public function openByPath(): array
    {
        /** @var list<array{path: string, open: int}> $rows */
        $rows = $this->createQueryBuilder('i')
            ->select('i.path', 'COUNT(i.id) AS open')
            ->where('i.status <> :resolved AND i.rehearsedWith IS NULL')
            ->setParameter('resolved', IncidentStatus::Resolved->value)
            ->groupBy('i.path')
            ->getQuery()
            ->getArrayResult();

        return array_column($rows, 'open', 'path');
    }

    /** @return list<Incident> the gravest first, the oldest first */
    public function notOver(): array
    {
        $open = $this->findBy(['status' => [IncidentStatus::Open, IncidentStatus::Acknowledged], 'rehearsedWith' => null]);
        usort(
            $open,
            static fn(Incident $a, Incident $b): int => [$b->severity->rank(), $a->openedAt] <=> [
                $a->severity->rank(),
                $b->openedAt,
            ],
        );

        return $open;
    }

    /**
     * @param list<string> $untilOver paths whose ladder goes on whoever has it
     *
     * @return list<Incident> as they are by now: those nobody has in hand, whose ladder goes on,
     *                        those that somebody has for a time, and those that are hushed for one
     */
    public function climbing(array $untilOver): array
    {
        /** @var list<Incident> */
        return $this->createQueryBuilder('i')
            ->where('i.replayed = false AND (i.status = :open OR (i.status = :acknowledged AND '
                . '(i.heldUntil IS NOT NULL OR i.hushedUntil IS NOT NULL OR i.path IN (:untilOver))))')
            ->setParameter('untilOver', $untilOver === [] ? [''] : $untilOver)
            ->setParameter('open', IncidentStatus::Open->value)
            ->setParameter('acknowledged', IncidentStatus::Acknowledged->value)
            ->getQuery()
            ->setHint(Query::HINT_REFRESH, true)
            ->getResult();
    }

    /** The one that is not over, held until the transaction is: whoever resolves it does so before or after. */
    public function heldOpenAt(IncidentPlace $place): ?Incident
    {
        $id = $this->getEntityManager()
            ->getConnection()
            ->fetchOne(
                'SELECT id FROM incident WHERE service = ? AND path = ? AND status <> ? AND rehearsed_with IS NULL'
                    . ' ORDER BY id DESC LIMIT 1 FOR UPDATE',
                [$place->group, $place->path, IncidentStatus::Resolved->value],
            );

        return $id === false ? null : $this->held(Scalar::int($id));
    }

    /** The last one there, if it came to its end by itself since then; held. */
    public function heldLastOverAt(IncidentPlace $place, Instant $since): ?Incident
    {
        $id = $this->getEntityManager()
            ->getConnection()
            ->fetchOne(
                'SELECT id FROM incident WHERE service = ? AND path = ? AND resolved_at >= ? AND resolved_by IS NULL AND replayed = 0'
                    . ' AND rehearsed_with IS NULL'
                    . ' ORDER BY id DESC LIMIT 1 FOR UPDATE',
                [$place->group, $place->path, $since->ms],
            );

        return $id === false ? null : $this->held(Scalar::int($id));
    }

    /** As it is now, and nobody else changes it until the transaction is over. */
    public function held(int $id): Incident
    {
        return $this->find($id, LockMode::PESSIMISTIC_WRITE) ?? throw new \LogicException("Incident {$id} is gone");
    }
}

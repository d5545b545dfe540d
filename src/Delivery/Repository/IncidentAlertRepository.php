<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\Query;
use Doctrine\ORM\QueryBuilder;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\Core\Time\Instant;

/**
 * The alerts of incidents. Somebody may resolve an incident at any time: each question is answered as the rows are now.
 *
 * @extends ServiceEntityRepository<IncidentAlert>
 */
final class IncidentAlertRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, IncidentAlert::class);
    }

    /** @return list<IncidentAlert> still raised first, the gravest first, the oldest first */
    public function of(int $incidentId): array
    {
        $alerts = $this->now(
            $this->createQueryBuilder('a')->where('a.incidentId = :incident')->setParameter('incident', $incidentId),
        );
        usort(
            $alerts,
            static fn(IncidentAlert $a, IncidentAlert $b): int => [
                $a->clearedAt !== null,
                $b->severity->rank(),
                $a->raisedAt,
            ] <=> [$b->clearedAt !== null, $a->severity->rank(), $b->raisedAt],
        );

        return $alerts;
    }

    /**
     * Within a transaction that holds the incident: as they are by now, whatever it read before.
     *
     * @return list<IncidentAlert>
     */
    public function heldOf(int $incidentId): array
    {
        /** @var list<IncidentAlert> */
        return $this->createQueryBuilder('a')
            ->where('a.incidentId = :incident')
            ->setParameter('incident', $incidentId)
            ->getQuery()
            ->setLockMode(LockMode::PESSIMISTIC_WRITE)
            ->setHint(Query::HINT_REFRESH, true)
            ->getResult();
    }

    /** The newest that is raised. */
    public function raised(int $ruleId, string $hash): ?IncidentAlert
    {
        return $this->now($this->allRaised($ruleId, $hash)->orderBy('a.incidentId', 'DESC')->setMaxResults(1))[0] ?? null;
    }

    /** @return list<IncidentAlert> */
    public function broken(int $ruleId): array
    {
        return $this->now($this->allRaised($ruleId, IncidentAlert::BROKEN));
    }

    /** @return int of how many alerts a rule is the cause that are not over */
    public function countRaisedBy(int $ruleId): int
    {
        return $this->count(['ruleId' => $ruleId, 'clearedAt' => null]);
    }

    /** @return array<int, int> rule → how many incidents it opened since then: its alert was the first in them */
    public function openedByRule(Instant $since): array
    {
        /** @var list<array{incidentId: int, ruleId: int}> $raised */
        $raised = $this->createQueryBuilder('a')
            ->select('a.incidentId', 'a.ruleId')
            ->where('a.raisedAt > :since')
            ->orderBy('a.raisedAt', 'DESC')
            ->setParameter('since', $since->ms)
            ->getQuery()
            ->getArrayResult();
        // Of each incident the oldest stays.
        return array_count_values(array_column($raised, 'ruleId', 'incidentId'));
    }

    private function allRaised(int $ruleId, string $hash): QueryBuilder
    {
        return $this->createQueryBuilder('a')
            ->where('a.ruleId = :rule AND a.labelsHash = :hash AND a.clearedAt IS NULL')
            ->setParameter('rule', $ruleId)
            ->setParameter('hash', $hash);
    }

    /** @return list<IncidentAlert> */
    private function now(QueryBuilder $asked): array
    {
        /** @var list<IncidentAlert> */
        return $asked->getQuery()->setHint(Query::HINT_REFRESH, true)->getResult();
    }
}

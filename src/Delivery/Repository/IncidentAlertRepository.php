<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\Query;
use Doctrine\ORM\QueryBuilder;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * The alerts of incidents. Somebody may resolve an incident at any time: each question is answered as the rows are now.
 *
 * @extends ServiceEntityRepository<IncidentAlert>
 */
final class IncidentAlertRepository extends ServiceEntityRepository
{
    private const SOON_MINUTES = 5;

    private const MOST_UP = 5_000;

    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, IncidentAlert::class);
    }

    /**
     * @param list<int> $incidents
     *
     * @return array<int, int> incident → how many alerts there were
     */
    public function countsOf(array $incidents): array
    {
        /** @var list<array{incidentId: int, many: int}> $rows */
        $rows = $this->createQueryBuilder('a')
            ->select('a.incidentId', 'COUNT(a.ruleId) AS many')
            ->where('a.incidentId IN (:incidents)')
            ->groupBy('a.incidentId')
            ->setParameter('incidents', $incidents)
            ->getQuery()
            ->getArrayResult();

        return array_column($rows, 'many', 'incidentId');
    }

    /** @return list<IncidentAlert> that are up in incidents that people may be told of, the gravest first; so many at most */
    public function up(): array
    {
        /** @var list<IncidentAlert> */
        return $this->createQueryBuilder('a')
            ->join(Incident::class, 'i', 'WITH', 'i.id = a.incidentId')
            ->where('a.clearedAt IS NULL AND i.replayed = false AND i.rehearsedWith IS NULL AND i.status <> :over')
            ->orderBy('a.raisedAt', 'DESC')
            ->setParameter('over', IncidentStatus::Resolved->value)
            ->setMaxResults(self::MOST_UP)
            ->getQuery()
            ->getResult();
    }

    /**
     * An incident that was over and opened again is of what raised since; what it was of before stands last.
     *
     * @return list<IncidentAlert> still raised first, the gravest first, the oldest first
     */
    public function of(int $incidentId): array
    {
        $alerts = $this->now(
            $this->createQueryBuilder('a')->where('a.incidentId = :incident')->setParameter('incident', $incidentId),
        );
        $opened = self::openedLast($alerts);
        usort(
            $alerts,
            static fn(IncidentAlert $a, IncidentAlert $b): int => [
                $a->clearedAt !== null,
                $a->clearedAt?->isBefore($opened) === true,
                $b->severity->rank(),
                $a->raisedAt,
            ] <=> [$b->clearedAt !== null, $b->clearedAt?->isBefore($opened) === true, $a->severity->rank(), $b->raisedAt],
        );

        return $alerts;
    }

    /**
     * When the last stretch began in which something of it was up all the time.
     *
     * @param list<IncidentAlert> $alerts
     */
    private static function openedLast(array $alerts): Instant
    {
        usort($alerts, static fn(IncidentAlert $a, IncidentAlert $b): int => $a->raisedAt->ms <=> $b->raisedAt->ms);
        $opened = Instant::ofMs(0);
        $up = 0;
        foreach ($alerts as $alert) {
            $opened = $alert->raisedAt->ms > $up ? $alert->raisedAt : $opened;
            $up = max($up, $alert->clearedAt->ms ?? PHP_INT_MAX);
        }

        return $opened;
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

    /** The one that was raised at an instant, or was up then; else the next one that was raised soon after. */
    public function raisedAround(int $ruleId, string $hash, Instant $at): ?IncidentAlert
    {
        $soon = $at->plus(Duration::ofMinutes(self::SOON_MINUTES));

        return $this->now(
            $this->createQueryBuilder('a')
                ->where('a.ruleId = :rule AND a.labelsHash = :hash AND a.onsetAt <= :soon AND (a.clearedAt IS NULL OR a.clearedAt >= :at)')
                ->setParameter('rule', $ruleId)
                ->setParameter('hash', $hash)
                ->setParameter('soon', $soon->ms)
                ->setParameter('at', $at->ms)
                ->orderBy('a.raisedAt')
                ->setMaxResults(1),
        )[0] ?? null;
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
            ->join(Incident::class, 'i', 'WITH', 'i.id = a.incidentId')
            ->where('a.raisedAt > :since AND i.rehearsedWith IS NULL')
            ->orderBy('a.raisedAt', 'DESC')
            ->setParameter('since', $since->ms)
            ->getQuery()
            ->getArrayResult();
        // Of each incident the oldest stays.
        return array_count_values(array_column($raised, 'ruleId', 'incidentId'));
    }

    /**
     * Alerts of one incident are of another one from now on; of one that both have, the one that is up stays.
     *
     * @param list<array{int, string}> $alerts rule and hash of the labels
     */
    public function move(array $alerts, int $from, int $to): void
    {
        $connection = $this->getEntityManager()->getConnection();
        $twice = 'DELETE x FROM incident_alert x JOIN incident_alert o ON o.rule_id = x.rule_id AND o.labels_hash = x.labels_hash'
            . ' WHERE x.rule_id = ? AND x.labels_hash = ? AND x.incident_id = ? AND o.incident_id = ? AND ';
        foreach ($alerts as [$rule, $hash]) {
            $connection->executeStatement("{$twice} o.cleared_at IS NULL", [$rule, $hash, $from, $to]);
            $connection->executeStatement("{$twice} x.cleared_at IS NOT NULL", [$rule, $hash, $to, $from]);
            $connection->executeStatement('DELETE FROM incident_alert WHERE rule_id = ? AND labels_hash = ? AND incident_id = ?'
                . ' AND EXISTS (SELECT 1 FROM (SELECT incident_id FROM incident_alert WHERE rule_id = ? AND labels_hash = ? AND incident_id = ?) o)', [
                    $rule, $hash, $from, $rule, $hash, $to,
                ]);
            $connection->executeStatement('UPDATE incident_alert SET incident_id = ? WHERE rule_id = ? AND labels_hash = ? AND incident_id = ?', [
                $to, $rule, $hash, $from,
            ]);
        }
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

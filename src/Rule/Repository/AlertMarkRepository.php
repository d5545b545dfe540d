<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Rule\Entity\AlertMark;
use Olivine\Core\Rule\Worth;
use Olivine\Core\Time\Instant;

/**
 * @extends ServiceEntityRepository<AlertMark>
 */
final class AlertMarkRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, AlertMark::class);
    }

    /** @return list<AlertMark> the newest first */
    public function of(int $ruleId): array
    {
        return $this->findBy(['ruleId' => $ruleId], ['raisedAt' => 'DESC']);
    }

    public function one(int $ruleId, string $labelsHash, Instant $raisedAt): ?AlertMark
    {
        return $this->findOneBy(['ruleId' => $ruleId, 'labelsHash' => $labelsHash, 'raisedAt' => $raisedAt]);
    }

    /** @return array<int, array<string, int>> rule → what was said → of how many alerts */
    public function countedByRule(Instant $since): array
    {
        /** @var list<array{ruleId: int, worth: Worth, marks: int}> $rows */
        $rows = $this->createQueryBuilder('m')
            ->select('m.ruleId', 'm.worth', 'COUNT(m.id) AS marks')
            ->where('m.raisedAt > :since')
            ->groupBy('m.ruleId', 'm.worth')
            ->setParameter('since', $since->ms)
            ->getQuery()
            ->getArrayResult();
        $counted = [];
        foreach ($rows as $row) {
            $counted[$row['ruleId']][$row['worth']->value] = $row['marks'];
        }

        return $counted;
    }
}

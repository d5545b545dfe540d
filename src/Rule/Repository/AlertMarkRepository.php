<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Rule\Entity\AlertMark;
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
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Rule\Entity\RuleRevision;

/**
 * @extends ServiceEntityRepository<RuleRevision>
 */
final class RuleRevisionRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, RuleRevision::class);
    }

    /** @return list<RuleRevision> the newest first */
    public function of(int $ruleId, int $most): array
    {
        return $this->findBy(['ruleId' => $ruleId], ['number' => 'DESC'], $most);
    }
}

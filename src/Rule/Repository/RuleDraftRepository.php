<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Entity\RuleDraft;

/**
 * @extends ServiceEntityRepository<RuleDraft>
 */
final class RuleDraftRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, RuleDraft::class);
    }

    public function ofRule(int $ruleId): ?RuleDraft
    {
        return $this->findOneBy(['ruleId' => $ruleId]);
    }

    /** @throws Problem 404 */
    public function there(int $id): RuleDraft
    {
        return $this->find($id) ?? throw new Problem(404, "There is no draft {$id}");
    }

    /** @return list<RuleDraft> of rules that are not there yet, the newest first */
    public function ofNewRules(): array
    {
        return $this->findBy(['ruleId' => null], ['at' => 'DESC']);
    }

    /** @return list<int> rules of which there is a draft */
    public function ofRules(): array
    {
        /** @var list<int> */
        return $this->createQueryBuilder('d')->select('d.ruleId')->where('d.ruleId IS NOT NULL')->getQuery()->getSingleColumnResult();
    }
}

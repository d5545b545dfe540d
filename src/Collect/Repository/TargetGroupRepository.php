<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Collect\Entity\TargetGroup;
use Olivine\App\Platform\Problem;

/**
 * @extends ServiceEntityRepository<TargetGroup>
 */
final class TargetGroupRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, TargetGroup::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): TargetGroup
    {
        return $this->find($id) ?? throw new Problem(404, "There is no group {$id}");
    }

    public function named(string $name): ?TargetGroup
    {
        return $this->findOneBy(['name' => $name]);
    }

    /** @return list<TargetGroup> by name */
    public function byName(): array
    {
        return $this->findBy([], ['name' => 'ASC']);
    }
}

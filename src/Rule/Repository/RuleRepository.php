<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Entity\Rule;

/**
 * @extends ServiceEntityRepository<Rule>
 */
final class RuleRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Rule::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): Rule
    {
        return $this->find($id) ?? throw new Problem(404, "There is no rule {$id}");
    }

    public function named(string $name): ?Rule
    {
        return $this->findOneBy(['name' => $name]);
    }

    /** @return list<Rule> by name */
    public function byName(): array
    {
        return $this->findBy([], ['name' => 'ASC']);
    }
}

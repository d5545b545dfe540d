<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\PreparedAction;
use Olivine\App\Platform\Problem;

/** @extends ServiceEntityRepository<PreparedAction> */
final class ActionRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, PreparedAction::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): PreparedAction
    {
        return $this->find($id) ?? throw new Problem(404, "There is no action {$id}");
    }

    /** @return list<PreparedAction> */
    public function byName(): array
    {
        return $this->findBy([], ['name' => 'ASC']);
    }

    public function named(string $name): ?PreparedAction
    {
        return $this->findOneBy(['name' => $name]);
    }
}

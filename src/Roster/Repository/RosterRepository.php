<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Entity\KeptRoster;

/** @extends ServiceEntityRepository<KeptRoster> */
final class RosterRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, KeptRoster::class);
    }

    /** @return list<KeptRoster> that there are, in their order */
    public function inOrder(): array
    {
        return $this->findBy(['removedAt' => null], ['place' => 'ASC', 'id' => 'ASC']);
    }

    /** @throws Problem 404 */
    public function there(int $id): KeptRoster
    {
        $roster = $this->find($id);

        return $roster !== null && $roster->removedAt === null ? $roster : throw new Problem(404, "There is no roster {$id}");
    }

    public function named(string $name): ?KeptRoster
    {
        return $this->findOneBy(['name' => $name, 'removedAt' => null]);
    }
}

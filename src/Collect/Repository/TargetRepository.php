<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Entity\TargetGroup;
use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;

/**
 * Targets; one that was removed can be brought back for a day, and counts as gone until then.
 *
 * @extends ServiceEntityRepository<Target>
 */
final class TargetRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Target::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): Target
    {
        $target = $this->find($id);

        return $target !== null && $target->removedAt === null ? $target : throw new Problem(404, "There is no target {$id}");
    }

    /** @throws Problem 404 for one that is gone for good */
    public function thereOrRemoved(int $id): Target
    {
        return $this->find($id) ?? throw new Problem(404, 'This target is gone for good: removed targets are kept for a day');
    }

    /** @return list<Target> by name */
    public function checks(): array
    {
        $checks = array_filter(SourceKind::cases(), static fn(SourceKind $kind): bool => $kind->isCheck());

        return $this->findBy(['kind' => $checks, 'removedAt' => null], ['name' => 'ASC']);
    }

    /** @return list<Target> by name */
    public function jobs(): array
    {
        return $this->findBy(['kind' => SourceKind::Job, 'removedAt' => null], ['name' => 'ASC']);
    }

    /** @return list<Target> those that are watched by a recipe, by name */
    public function byRecipe(): array
    {
        /** @var list<Target> */
        return $this->createQueryBuilder('t')
            ->where('t.recipe IS NOT NULL AND t.removedAt IS NULL')
            ->orderBy('t.name')
            ->getQuery()
            ->getResult();
    }

    /** Also one that was removed. */
    public function named(string $name): ?Target
    {
        return $this->findOneBy(['name' => $name]);
    }

    /**
     * @param list<int> $ids
     *
     * @return list<Target> by name
     */
    public function of(array $ids): array
    {
        return $this->findBy(['id' => $ids], ['name' => 'ASC']);
    }

    /** @return list<Target> also those that were removed */
    public function everIn(TargetGroup $group): array
    {
        return $this->findBy(['group' => $group]);
    }

    /** @return list<Target> */
    public function in(TargetGroup $group): array
    {
        return $this->findBy(['group' => $group, 'removedAt' => null]);
    }

    public function countIn(TargetGroup $group): int
    {
        return $this->count(['group' => $group, 'removedAt' => null]);
    }

    /** @return array<int, int> id of the group → how many are in it */
    public function countsByGroup(): array
    {
        $rows = $this->createQueryBuilder('t')
            ->select('IDENTITY(t.group) AS id', 'COUNT(t.id) AS members')
            ->where('t.removedAt IS NULL AND t.group IS NOT NULL')
            ->groupBy('t.group')
            ->getQuery()
            ->getScalarResult();

        /** @var array<int, int|string> $members */
        $members = array_column($rows, 'members', 'id');

        return Scalar::ints($members);
    }
}

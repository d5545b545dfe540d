<?php

declare(strict_types=1);

namespace Olivine\App\People\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Role;
use Olivine\App\Platform\Problem;
use Olivine\Core\Time\Instant;

/**
 * People; what somebody did keeps their name after they were removed.
 *
 * @extends ServiceEntityRepository<Person>
 */
final class PersonRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Person::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): Person
    {
        $person = $this->find($id);

        return $person !== null && $person->removedAt === null ? $person : throw new Problem(404, "There is no person {$id}");
    }

    public function atAddress(string $email): ?Person
    {
        return $this->findOneBy(['email' => $email]);
    }

    /** @return list<Person> by name */
    public function byName(): array
    {
        return $this->findBy(['removedAt' => null], ['name' => 'ASC']);
    }

    /**
     * Those who may act, as they are by now, whatever was read of them before.
     *
     * @return list<array{id: int, email: string, name: string, role: Role, wishes: array<string, mixed>|null}>
     */
    public function whoMayAct(): array
    {
        /** @var list<array{id: int, email: string, name: string, role: Role, wishes: array<string, mixed>|null}> */
        return $this->createQueryBuilder('p')
            ->select('p.id', 'p.email', 'p.name', 'p.role', 'p.wishes')
            ->where('p.barredAt IS NULL AND p.removedAt IS NULL')
            ->orderBy('p.id')
            ->getQuery()
            ->getArrayResult();
    }

    /** @return array<int, string> id → name, also of those who were removed */
    public function names(): array
    {
        $rows = $this->createQueryBuilder('p')->select('p.id', 'p.name')->getQuery()->getScalarResult();

        /** @var array<int, string> */
        return array_column($rows, 'name', 'id');
    }

    /** @return list<array{id: int, at: Instant}> those who may not act any more, and since when */
    public function gone(): array
    {
        /** @var list<array{id: int, barredAt: Instant|null, removedAt: Instant|null}> $rows */
        $rows = $this->createQueryBuilder('p')
            ->select('p.id', 'p.barredAt', 'p.removedAt')
            ->where('p.barredAt IS NOT NULL OR p.removedAt IS NOT NULL')
            ->getQuery()
            ->getArrayResult();

        return array_map(
            static fn(array $row): array => ['id' => $row['id'], 'at' => $row['barredAt'] ?? $row['removedAt'] ?? Instant::ofMs(0)],
            $rows,
        );
    }

    /** @return array<string, int> address → id, of those who are there */
    public function byAddress(): array
    {
        $byAddress = [];
        foreach ($this->byName() as $person) {
            $byAddress[$person->email] = $person->id();
        }

        return $byAddress;
    }
}

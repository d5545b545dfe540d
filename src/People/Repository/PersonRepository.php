<?php

declare(strict_types=1);

namespace Olivine\App\People\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Role;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;

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

    /** @return list<int> those who take turns on call, in their order */
    public function inTheRota(): array
    {
        $rows = $this->createQueryBuilder('p')
            ->select('p.id')
            ->where('p.rotaPlace IS NOT NULL AND p.barredAt IS NULL AND p.removedAt IS NULL')
            ->orderBy('p.rotaPlace')
            ->addOrderBy('p.id')
            ->getQuery()
            ->getSingleColumnResult();

        return array_values(array_map(Scalar::int(...), $rows));
    }
}

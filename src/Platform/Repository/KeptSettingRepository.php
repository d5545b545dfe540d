<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\ORM\Query;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Entity\KeptSetting;

/** @extends ServiceEntityRepository<KeptSetting> */
final class KeptSettingRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry, private readonly Database $database)
    {
        parent::__construct($registry, KeptSetting::class);
    }

    /** As it is now, whoever set it. */
    public function value(string $name): ?string
    {
        $found = $this->createQueryBuilder('s')
            ->select('s.value')
            ->where('s.name = :name')
            ->setParameter('name', $name)
            ->getQuery()
            ->getOneOrNullResult(Query::HYDRATE_SINGLE_SCALAR);

        return is_string($found) ? $found : null;
    }

    public function keep(string $name, string $value): void
    {
        $this->database->upsert('setting', ['name', 'value'], [[$name, $value]]);
    }

    /** @return bool whether nobody had set it before */
    public function keepFirst(string $name, string $value): bool
    {
        return $this->getEntityManager()
            ->getConnection()
            ->executeStatement('INSERT IGNORE INTO setting (name, value) VALUES (?, ?)', [$name, $value]) === 1;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\Webhook;
use Olivine\App\Platform\Problem;

/**
 * @extends ServiceEntityRepository<Webhook>
 */
final class WebhookRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Webhook::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): Webhook
    {
        return $this->find($id) ?? throw new Problem(404, "There is no webhook {$id}");
    }

    public function named(string $name): ?Webhook
    {
        return $this->findOneBy(['name' => $name]);
    }

    /** @return list<Webhook> by name */
    public function byName(): array
    {
        return $this->findBy([], ['name' => 'ASC']);
    }

    /** @return array<string, int> name → how often it was changed */
    public function versions(): array
    {
        /** @var list<array{name: string, version: int}> $rows */
        $rows = $this->createQueryBuilder('w')->select('w.name', 'w.version')->orderBy('w.name')->getQuery()->getArrayResult();

        return array_column($rows, 'version', 'name');
    }

    /** @return list<string> names of those that are told what another way did not take */
    public function standingIn(): array
    {
        /** @var list<array{name: string}> $rows */
        $rows = $this->createQueryBuilder('w')
            ->select('w.name')
            ->where('w.standsIn = true')
            ->orderBy('w.name')
            ->getQuery()
            ->getArrayResult();

        return array_column($rows, 'name');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Platform\Problem;

/**
 * @extends ServiceEntityRepository<KeptChannel>
 */
final class KeptChannelRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, KeptChannel::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): KeptChannel
    {
        return $this->find($id) ?? throw new Problem(404, "There is no channel {$id}");
    }

    public function named(string $name): ?KeptChannel
    {
        return $this->findOneBy(['name' => $name]);
    }

    /** @return list<KeptChannel> by name */
    public function byName(): array
    {
        return $this->findBy([], ['name' => 'ASC']);
    }

    /** @return KeptChannel|null the first one of its kind, by name: what is meant where none is said */
    public function firstOf(ChannelKind $kind): ?KeptChannel
    {
        return $this->findOneBy(['kind' => $kind], ['name' => 'ASC']);
    }

    /** @return list<string> names */
    public function ofKind(ChannelKind $kind): array
    {
        return array_map(static fn(KeptChannel $one): string => $one->name, $this->findBy(['kind' => $kind], ['name' => 'ASC']));
    }

    /** @return array<string, int> name → how often it was changed */
    public function versions(ChannelKind $kind): array
    {
        /** @var list<array{name: string, version: int}> $rows */
        $rows = $this->createQueryBuilder('c')
            ->select('c.name', 'c.version')
            ->where('c.kind = :kind')
            ->orderBy('c.name')
            ->setParameter('kind', $kind->value)
            ->getQuery()
            ->getArrayResult();

        return array_column($rows, 'version', 'name');
    }

    /** @return array<string, int> name → price of a message, in thousandths */
    public function prices(): array
    {
        /** @var list<array{name: string, price: int}> $rows */
        $rows = $this->createQueryBuilder('c')->select('c.name', 'c.price')->getQuery()->getArrayResult();

        return array_column($rows, 'price', 'name');
    }

    /** @return array<string, bool> name → whether it is told what another way did not take, by name */
    public function standingIn(): array
    {
        /** @var list<array{name: string, standsIn: bool}> $rows */
        $rows = $this->createQueryBuilder('c')->select('c.name', 'c.standsIn')->orderBy('c.name')->getQuery()->getArrayResult();

        return array_column($rows, 'standsIn', 'name');
    }
}

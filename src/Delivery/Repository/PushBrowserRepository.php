<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\PushBrowser;

/** @extends ServiceEntityRepository<PushBrowser> */
final class PushBrowserRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, PushBrowser::class);
    }

    /** @return list<PushBrowser> */
    public function of(int $person): array
    {
        return $this->findBy(['personId' => $person], ['id' => 'ASC']);
    }

    public function at(string $endpoint): ?PushBrowser
    {
        return $this->findOneBy(['endpointHash' => hash('sha256', $endpoint)]);
    }
}

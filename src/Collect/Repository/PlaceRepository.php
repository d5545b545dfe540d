<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Collect\Entity\Place;

/** @extends ServiceEntityRepository<Place> */
final class PlaceRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Place::class);
    }

    /** @return list<Place> those that checks can be asked from */
    public function there(): array
    {
        return $this->findBy(['removedAt' => null], ['id' => 'ASC']);
    }

    /** @return array<int, string> id → name */
    public function names(): array
    {
        $names = [];
        foreach ($this->there() as $place) {
            $names[$place->id()] = $place->name;
        }

        return $names;
    }
}

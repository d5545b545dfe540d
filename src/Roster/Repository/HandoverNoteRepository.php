<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Roster\Entity\HandoverNote;

/** @extends ServiceEntityRepository<HandoverNote> */
final class HandoverNoteRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, HandoverNote::class);
    }

    public function of(int $roster): ?HandoverNote
    {
        return $this->find($roster);
    }
}

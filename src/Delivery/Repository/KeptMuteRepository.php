<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\KeptMute;
use Olivine\App\Platform\Problem;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<KeptMute> */
final class KeptMuteRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, KeptMute::class);
    }

    /** @throws Problem 404 */
    public function there(int $id): KeptMute
    {
        return $this->find($id) ?? throw new Problem(404, "There is no mute {$id}");
    }

    /** Another one whenever any of them was set, changed or ended; however many there were, one look. */
    public function mark(): string
    {
        /** @var array{at: Instant, many: int|string, versions: int|string}|null $last */
        $last = $this->createQueryBuilder('m')
            ->select('m.changedAt AS at', 'COUNT(m.id) AS many', 'SUM(m.version) AS versions')
            ->groupBy('m.changedAt')
            ->orderBy('m.changedAt', 'DESC')
            ->setMaxResults(1)
            ->getQuery()
            ->getOneOrNullResult();

        return $last === null ? 'none' : "{$last['at']->ms} {$last['many']} {$last['versions']}";
    }

    /** @return list<KeptMute> that are not over at an instant, those first that end first */
    public function notOver(Instant $at): array
    {
        /** @var list<KeptMute> */
        return $this->createQueryBuilder('m')
            ->where("(m.endedAt IS NULL OR m.endedAt > :at) AND (m.toAt > :at OR m.recurs <> '')")
            ->orderBy('m.toAt')
            ->addOrderBy('m.id')
            ->setParameter('at', $at->ms)
            ->getQuery()
            ->getResult();
    }
}

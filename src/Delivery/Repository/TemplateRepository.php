<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Entity\TemplateRevision;

/** @extends ServiceEntityRepository<TemplateRevision> */
final class TemplateRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, TemplateRevision::class);
    }

    /**
     * @param string|null $way null: of all
     *
     * @return list<TemplateRevision> that count now, of everyone first
     */
    public function inService(?string $way = null): array
    {
        $asked = $this->createQueryBuilder('t')
            ->where('t.removed = false')
            ->andWhere('t.number = (SELECT MAX(n.number) FROM ' . TemplateRevision::class . ' n WHERE n.way = t.way AND n.team = t.team)')
            ->orderBy('t.way')
            ->addOrderBy('t.team');
        if ($way !== null) {
            $asked->andWhere('t.way = :way')->setParameter('way', $way);
        }

        /** @var list<TemplateRevision> */
        return $asked->getQuery()->getResult();
    }

    /** @return list<TemplateRevision> the newest first */
    public function revisions(string $way, string $team, int $most): array
    {
        return $this->findBy(['way' => $way, 'team' => $team], ['number' => 'DESC'], $most);
    }

    /** The channel is called otherwise from now on, and so are its templates. */
    public function renameWay(string $from, string $to): void
    {
        $this->createQueryBuilder('t')
            ->update()
            ->set('t.way', ':to')
            ->where('t.way = :from')
            ->setParameter('to', $to)
            ->setParameter('from', $from)
            ->getQuery()
            ->execute();
    }
}

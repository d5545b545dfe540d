<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Collect\Entity\Pushed;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<Pushed> */
final class PushedRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Pushed::class);
    }

    /** As it is now, known to no entity manager: whoever looks again and again must not be told what it was. */
    public function last(int $targetId): ?Pushed
    {
        $row = $this->getEntityManager()->getConnection()->fetchAssociative(
            'SELECT at, ends_at, form, packed FROM pushed WHERE target_id = ?',
            [$targetId],
        );
        if ($row === false) {
            return null;
        }
        $pushed = new Pushed($targetId, Instant::ofMs(Scalar::int($row['at'])), Instant::ofMs(Scalar::int($row['ends_at'])));
        [$pushed->form, $pushed->packed] = [Form::from(Scalar::text($row['form'])), Scalar::text($row['packed'])];

        return $pushed;
    }
}

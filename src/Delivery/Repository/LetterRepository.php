<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\DeliveryStatus;
use Olivine\App\Delivery\Entity\Letter;
use Olivine\App\Platform\HeldSlots;
use Olivine\Core\Time\Instant;

/**
 * Letters: what is of no incident. Each step of a letter's way is one statement that says from what to what.
 *
 * @extends ServiceEntityRepository<Letter>
 */
final class LetterRepository extends ServiceEntityRepository
{
    private const LOOKED_AT = 100;

    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, Letter::class);
    }

    /**
     * @param list<string> $ways
     *
     * @return list<Letter> that are due in these slots by these ways, the oldest first
     */
    public function due(HeldSlots $slots, array $ways, Instant $now, int $most): array
    {
        /** @var list<Letter> $due */
        $due = $this->createQueryBuilder('l')
            ->where('l.status = :planned AND l.nextAt <= :now AND l.way IN (:ways)')
            ->orderBy('l.nextAt')
            ->addOrderBy('l.id')
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->setParameter('now', $now->ms)
            ->setParameter('ways', $ways)
            ->setMaxResults(self::LOOKED_AT)
            ->getQuery()
            ->getResult();

        return array_slice(array_values(array_filter($due, static fn(Letter $one): bool => $slots->has($one->id()))), 0, $most);
    }

    /**
     * What a sender that is gone had claimed in these slots.
     *
     * @param list<string> $ways
     */
    public function takeClaimsOver(HeldSlots $slots, array $ways): void
    {
        foreach ($this->findBy(['status' => DeliveryStatus::Sending, 'way' => $ways]) as $letter) {
            if ($slots->has($letter->id())) {
                $this->change($letter, DeliveryStatus::Sending, ['status' => DeliveryStatus::Planned->value]);
            }
        }
    }

    /** @return bool whether it is ours to send */
    public function claim(Letter $letter): bool
    {
        return $this->change($letter, DeliveryStatus::Planned, ['status' => DeliveryStatus::Sending->value, 'attempts' => $letter->attempts + 1]);
    }

    public function markSent(Letter $letter, Instant $at, string $answer): void
    {
        $this->change($letter, DeliveryStatus::Sending, ['status' => DeliveryStatus::Sent->value, 'sentAt' => $at->ms, 'answer' => $answer]);
    }

    /** @param Instant|null $again null: it is given up */
    public function markNotSent(Letter $letter, ?Instant $again, string $answer): void
    {
        $status = $again === null ? DeliveryStatus::Failed : DeliveryStatus::Planned;
        $this->change($letter, DeliveryStatus::Sending, ['status' => $status->value, 'nextAt' => ($again ?? $letter->nextAt)->ms, 'answer' => $answer]);
    }

    /** @return int how many with keys that begin so were posted to somebody since */
    public function posted(int $person, string $keys, Instant $since): int
    {
        return (int) $this->createQueryBuilder('l')
            ->select('COUNT(l.id)')
            ->where('l.personId = :person AND l.at >= :since AND l.key LIKE :keys')
            ->setParameter('person', $person)
            ->setParameter('since', $since->ms)
            ->setParameter('keys', "{$keys}%")
            ->getQuery()
            ->getSingleScalarResult();
    }

    /** @param array<string, int|string> $values */
    private function change(Letter $letter, DeliveryStatus $from, array $values): bool
    {
        $update = $this->createQueryBuilder('l')->update()->where('l.id = :id AND l.status = :from');
        foreach ($values as $field => $value) {
            $update->set("l.{$field}", ":{$field}")->setParameter($field, is_string($value) ? mb_substr($value, 0, 500) : $value);
        }

        return $update->setParameter('id', $letter->id())->setParameter('from', $from->value)->getQuery()->execute() === 1;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Entity\ContactMethod;
use Olivine\App\Platform\Scalar;

/** @extends ServiceEntityRepository<ContactMethod> */
final class ContactMethodRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, ContactMethod::class);
    }

    /** @return list<ContactMethod> of one person, the one that all have first */
    public function of(int $person): array
    {
        return $this->findBy(['personId' => $person], ['channel' => 'ASC', 'label' => 'ASC']);
    }

    /** @return list<string> ways of single people, each once: `e-mail/phone` */
    public function ways(string $channel): array
    {
        $labels = $this->createQueryBuilder('c')
            ->select('DISTINCT c.label')
            ->where("c.channel = :channel AND c.label <> ''")
            ->orderBy('c.label')
            ->setParameter('channel', $channel)
            ->getQuery()
            ->getSingleColumnResult();

        return array_values(array_map(static fn(mixed $label): string => "{$channel}/" . Scalar::text($label), $labels));
    }

    /** @return array<int, list<string>> person → ways of their own that were found to work, and are ways by themselves */
    public function verified(): array
    {
        $ways = [];
        /** @var list<array{personId: int, channel: string, label: string}> $rows */
        $rows = $this->createQueryBuilder('c')
            ->select('c.personId', 'c.channel', 'c.label')
            ->where("c.verifiedAt IS NOT NULL AND c.label <> '' AND c.channel = :mail")
            ->orderBy('c.id')
            ->setParameter('mail', MailChannel::NAME)
            ->getQuery()
            ->getArrayResult();
        foreach ($rows as $row) {
            $ways[$row['personId']][] = "{$row['channel']}/{$row['label']}";
        }

        return $ways;
    }

    /** @return ContactMethod|null the first of its kind that was found to work */
    public function verifiedOf(int $person, string $channel): ?ContactMethod
    {
        return array_find(
            $this->findBy(['personId' => $person, 'channel' => $channel], ['id' => 'ASC']),
            static fn(ContactMethod $one): bool => $one->verifiedAt !== null,
        );
    }

    /** @return list<int> people whose way this is, as they verified */
    public function whoHas(string $channel, string $address): array
    {
        $found = array_filter(
            $this->findBy(['channel' => $channel, 'address' => $address]),
            static fn(ContactMethod $one): bool => $one->verifiedAt !== null,
        );

        return array_values(array_map(static fn(ContactMethod $one): int => $one->personId, $found));
    }

    public function ofWay(int $person, string $way): ?ContactMethod
    {
        [$channel, $label] = [...explode('/', $way, 2), ''];

        return $this->findOneBy(['personId' => $person, 'channel' => $channel, 'label' => $label]);
    }
}

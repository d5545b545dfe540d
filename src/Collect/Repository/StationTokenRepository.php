<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Collect\Entity\StationToken;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<StationToken> */
final class StationTokenRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, StationToken::class);
    }

    public function ofDigest(string $digest, Instant $now): ?StationToken
    {
        $token = $this->findOneBy(['digest' => $digest]);

        return $token !== null && $token->endsAt->isAfter($now) && $token->used < $token->most ? $token : null;
    }

    /** @return list<StationToken> that still let somebody join, the newest first */
    public function valid(Instant $now): array
    {
        $tokens = $this->findBy([], ['id' => 'DESC'], 200);

        return array_values(array_filter($tokens, static fn(StationToken $one): bool => $one->endsAt->isAfter($now) && $one->used < $one->most));
    }
}

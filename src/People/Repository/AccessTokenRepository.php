<?php

declare(strict_types=1);

namespace Olivine\App\People\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\People\Entity\AccessToken;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Role;
use Olivine\App\Platform\Problem;

/** @extends ServiceEntityRepository<AccessToken> */
final class AccessTokenRepository extends ServiceEntityRepository
{
    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, AccessToken::class);
    }

    /** @return list<AccessToken> one's own; for administrators all of them */
    public function seenBy(Person $person): array
    {
        return $this->findBy($person->role === Role::Administrator ? [] : ['personId' => $person->id()], ['id' => 'ASC']);
    }

    /** @throws Problem 404, also where it is somebody else's */
    public function of(int $id, Person $person): AccessToken
    {
        $token = $this->find($id);
        $isSeen = $token !== null && ($token->personId === $person->id() || $person->role === Role::Administrator);

        return $isSeen ? $token : throw new Problem(404, "There is no token {$id}");
    }
}

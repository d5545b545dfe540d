<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\DBAL\Connection;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Security\Core\Exception\UnsupportedUserException;
use Symfony\Component\Security\Core\Exception\UserNotFoundException;
use Symfony\Component\Security\Core\User\UserInterface;
use Symfony\Component\Security\Core\User\UserProviderInterface;

/**
 * Who signs in and who is signed in, looked up with each request. The person it gives is to be read, not to be changed:
 * it is no entity under management, so that a request that needs none does not set all that up.
 *
 * @implements UserProviderInterface<Person>
 */
final readonly class PeopleProvider implements UserProviderInterface
{
    /** Of nobody's password, made as those of people are: whoever is not known is refused no sooner than whoever is. */
    private const NOBODYS_HASH = '$argon2id$v=19$m=19456,t=3,p=1$c1l5c0NxdDl6R21nM2haOQ$Y57mYnm2ZMjDL+TAGVKwEuLSzWj99accBtaLPHX7JvA';

    public function __construct(private Connection $connection)
    {
    }

    public function loadUserByIdentifier(string $identifier): Person
    {
        try {
            return $this->person('email = BINARY ?', Addresses::one($identifier));
        } catch (UserNotFoundException $error) {
            password_verify($identifier, self::NOBODYS_HASH);

            throw $error;
        }
    }

    /** Asked with each request: whoever was barred, or whose sessions were ended, is nobody from then on. */
    public function refreshUser(UserInterface $user): Person
    {
        if (!($user instanceof Person)) {
            throw new UnsupportedUserException();
        }
        $person = $this->person('id = ?', $user->id());

        return $person->sessionsFrom === $user->sessionsFrom ? $person : throw new UserNotFoundException();
    }

    public function supportsClass(string $class): bool
    {
        return $class === Person::class;
    }

    private function person(string $condition, int|string $value): Person
    {
        $row = $this->connection->fetchAssociative(
            "SELECT id, name, email, role, password_hash, sessions_from FROM person
             WHERE {$condition} AND barred_at IS NULL AND removed_at IS NULL",
            [$value],
        );
        if ($row === false) {
            throw new UserNotFoundException();
        }
        $person = new Person(Scalar::text($row['name']), Scalar::text($row['email']), Role::from(Scalar::text($row['role'])));
        $person->id = Scalar::int($row['id']);
        $person->passwordHash = Scalar::text($row['password_hash']);
        $person->sessionsFrom = Scalar::int($row['sessions_from']);

        return $person;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\DBAL\Connection;
use Olivine\App\People\Entity\Person;
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
    public function __construct(private Connection $connection)
    {
    }

    public function loadUserByIdentifier(string $identifier): Person
    {
        return $this->person('email = ?', $identifier);
    }

    public function refreshUser(UserInterface $user): Person
    {
        return $this->person('id = ?', $user instanceof Person ? $user->id() : throw new UnsupportedUserException());
    }

    public function supportsClass(string $class): bool
    {
        return $class === Person::class;
    }

    private function person(string $condition, int|string $value): Person
    {
        $row = $this->connection->fetchAssociative("SELECT id, name, email, role, password_hash, rota_place FROM person WHERE {$condition}", [$value]);
        if ($row === false) {
            throw new UserNotFoundException();
        }
        $person = new Person((string) $row['name'], (string) $row['email'], Role::from((string) $row['role']));
        $person->id = (int) $row['id'];
        $person->passwordHash = (string) $row['password_hash'];
        $person->rotaPlace = $row['rota_place'] === null ? null : (int) $row['rota_place'];

        return $person;
    }
}

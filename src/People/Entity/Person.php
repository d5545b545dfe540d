<?php

declare(strict_types=1);

namespace Olivine\App\People\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\Core\Time\Instant;
use Symfony\Component\Security\Core\User\PasswordAuthenticatedUserInterface;
use Symfony\Component\Security\Core\User\UserInterface;

#[ORM\Entity(repositoryClass: PersonRepository::class)]
#[ORM\Table(name: 'person')]
class Person implements UserInterface, PasswordAuthenticatedUserInterface
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: 120)]
    public string $name;

    #[ORM\Column(length: 180, unique: true)]
    public string $email;

    #[ORM\Column(length: 20, enumType: Role::class)]
    public Role $role;

    #[ORM\Column(length: 255)]
    public string $passwordHash = '';

    /** Barred people keep their name in what they did, and may do nothing. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $barredAt = null;
    /** Removed people are listed nowhere; what they did keeps their name. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $removedAt = null;
    /** Sessions that began before this instant are over: the password was changed, or somebody ended them. */
    #[ORM\Column(type: 'bigint')]
    public int $sessionsFrom = 0;
    /**
     * How they want to be told.
     *
     * @var array<string, mixed>|null as it is written in a request
     */
    #[ORM\Column(type: 'json', nullable: true)]
    public ?array $wishes = null;
    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    public function __construct(string $name, string $email, Role $role)
    {
        $this->name = $name;
        $this->email = $email;
        $this->role = $role;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The person is not saved yet');
    }

    public function mayAct(): bool
    {
        return $this->barredAt === null && $this->removedAt === null;
    }

    public function getPassword(): string
    {
        return $this->passwordHash;
    }

    public function getRoles(): array
    {
        return [$this->role->granted()];
    }

    public function eraseCredentials(): void
    {
    }

    public function getUserIdentifier(): string
    {
        return $this->email === '' ? throw new \LogicException('A person has an address') : $this->email;
    }
}

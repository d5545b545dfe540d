<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Collect\Repository\PlaceRepository;
use Olivine\Core\Time\Instant;

/** Where checks are asked from. */
#[ORM\Entity(repositoryClass: PlaceRepository::class)]
#[ORM\Table(name: 'place')]
#[ORM\UniqueConstraint(name: 'place_key', columns: ['key_digest'])]
class Place
{
    /** Where Olivine itself runs. */
    public const CENTRE = 1;
    public const NAME_LENGTH = 80;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: self::NAME_LENGTH, unique: true)]
    public string $name;

    #[ORM\Column(type: 'instant')]
    public Instant $createdAt;

    /** Of what its station shows with each request; null where none may ask from there, as at the centre. */
    #[ORM\Column(length: 64, nullable: true, options: ['fixed' => true])]
    public ?string $keyDigest = null;

    /** When its station was heard of last. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $seenAt = null;

    /** The number of the last result that was taken of its station. */
    #[ORM\Column(type: 'bigint', options: ['default' => 0])]
    public int $takenThrough = 0;

    /** Nothing is asked from there any more; what was stays under its name. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $removedAt = null;

    /** @var array<string, int|float|string>|null what its station says of itself */
    #[ORM\Column(type: 'json', nullable: true)]
    public ?array $figures = null;
    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    public function __construct(string $name, Instant $createdAt)
    {
        $this->name = $name;
        $this->createdAt = $createdAt;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The place is not saved yet');
    }
}

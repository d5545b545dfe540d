<?php

declare(strict_types=1);

namespace Olivine\App\People\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\People\Repository\AccessTokenRepository;
use Olivine\Core\Time\Instant;

/** What another program shows instead of a password: it acts as the person who made it, in some areas, until an end. */
#[ORM\Entity(repositoryClass: AccessTokenRepository::class)]
#[ORM\Table(name: 'access_token')]
#[ORM\UniqueConstraint(name: 'access_token_digest', columns: ['digest'])]
class AccessToken
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $usedAt = null;

    /**
     * @param string       $digest of the token, which is kept nowhere
     * @param list<string> $scopes areas that it may change; none: it only reads
     */
    public function __construct(
        #[ORM\Column]
        public int $personId,
        #[ORM\Column(length: 80)]
        public string $name,
        #[ORM\Column(length: 64, options: ['fixed' => true])]
        public string $digest,
        #[ORM\Column(type: 'json')]
        public array $scopes,
        #[ORM\Column(type: 'instant')]
        public Instant $madeAt,
        #[ORM\Column(type: 'instant')]
        public Instant $endsAt,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The token is not saved yet');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Collect\Repository\StationTokenRepository;
use Olivine\Core\Time\Instant;

/** Lets stations join: so many, with names of a pattern, until an end; and asks some checks from each of them at once. */
#[ORM\Entity(repositoryClass: StationTokenRepository::class)]
#[ORM\Table(name: 'station_token')]
#[ORM\UniqueConstraint(name: 'station_token_digest', columns: ['digest'])]
class StationToken
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** How many joined with it. */
    #[ORM\Column(options: ['default' => 0])]
    public int $used = 0;

    /**
     * @param string    $digest of the token, which is kept nowhere
     * @param string    $names  a pattern, such as `pier-*`
     * @param list<int> $checks that are asked from whoever joins
     * @param int       $most   so many may join
     */
    public function __construct(
        #[ORM\Column(length: 80)]
        public string $name,
        #[ORM\Column(length: 64, options: ['fixed' => true])]
        public string $digest,
        #[ORM\Column(length: 80)]
        public string $names,
        #[ORM\Column(type: 'json')]
        public array $checks,
        #[ORM\Column]
        public int $most,
        #[ORM\Column]
        public int $madeBy,
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

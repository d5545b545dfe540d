<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Definition\MuteKind;
use Olivine\App\Delivery\Repository\KeptMuteRepository;
use Olivine\Core\Time\Instant;

/** A mute or a maintenance window, once or again and again. It is never removed: what it hushed stays to be explained. */
#[ORM\Entity(repositoryClass: KeptMuteRepository::class)]
#[ORM\Table(name: 'mute')]
#[ORM\Index(name: 'mute_ends', columns: ['to_at'])]
#[ORM\Index(name: 'mute_changed', columns: ['changed_at'])]
class KeptMute
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** When somebody ended it before its time; of what comes again, when it came for the last time. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $endedAt = null;

    /** Whoever keeps it at hand knows by it whether it is still so. */
    #[ORM\Column(type: 'instant')]
    public Instant $changedAt;

    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    /**
     * @param string  $matching a filter on labels, and on severity, rule and owner
     * @param Instant $toAt     of what comes again: of the first time
     * @param string  $recurs   a rule of RFC 5545; "": once
     */
    public function __construct(
        #[ORM\Column(length: 12, enumType: MuteKind::class)]
        public MuteKind $kind,
        #[ORM\Column(length: 80)]
        public string $name,
        #[ORM\Column(length: 2_000)]
        public string $matching,
        #[ORM\Column(length: 300)]
        public string $reason,
        #[ORM\Column(nullable: true)]
        public ?int $authorId,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
        #[ORM\Column(type: 'instant')]
        public Instant $fromAt,
        #[ORM\Column(type: 'instant')]
        public Instant $toAt,
        #[ORM\Column(length: 60)]
        public string $zone,
        #[ORM\Column(length: 200)]
        public string $recurs = '',
    ) {
        $this->changedAt = $at;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The mute is not saved yet');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/** Alerts delivered together. */
#[ORM\Entity(repositoryClass: IncidentRepository::class)]
#[ORM\Table(name: 'incident')]
#[ORM\Index(name: 'incident_open', columns: ['status', 'service'])]
#[ORM\Index(name: 'incident_opened', columns: ['opened_at'])]
class Incident
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** The name of the path that answers for it. */
    #[ORM\Column(length: 80)]
    public string $path;

    /** What of: the labels that its alerts share, by its path. */
    #[ORM\Column(length: 120)]
    public string $service;

    #[ORM\Column(length: 500)]
    public string $title;

    #[ORM\Column(length: 10, enumType: Severity::class)]
    public Severity $severity;

    #[ORM\Column(length: 12, enumType: IncidentStatus::class)]
    public IncidentStatus $status = IncidentStatus::Open;

    #[ORM\Column(type: 'instant')]
    public Instant $openedAt;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $acknowledgedAt = null;

    #[ORM\Column(nullable: true)]
    public ?int $acknowledgedBy = null;

    /** When nobody has it any more, unless it is over by then. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $heldUntil = null;

    /** How often its ladder began anew, and when it did last. */
    #[ORM\Column(type: 'smallint', options: ['default' => 0])]
    public int $lap = 0;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $lapFrom = null;

    /** When somebody is told at the earliest, as all of it is muted; null: it is not. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $hushedUntil = null;

    /**
     * Who was told of its alerts while they were of another incident.
     *
     * @var list<int>|null
     */
    #[ORM\Column(type: 'json', nullable: true)]
    public ?array $toldBefore = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $resolvedAt = null;

    /** Null where it resolved by itself: all its alerts cleared. */
    #[ORM\Column(nullable: true)]
    public ?int $resolvedBy = null;

    /**
     * Who agreed to be told, where it is a rehearsal; null where it is in earnest.
     *
     * @var list<int>|null
     */
    #[ORM\Column(type: 'json', nullable: true)]
    public ?array $rehearsedWith = null;

    /** Made by replaying history: nobody was told. */
    #[ORM\Column]
    public bool $replayed = false;

    public function __construct(string $path, string $service, string $title, Severity $severity, Instant $openedAt, bool $replayed)
    {
        $this->path = $path;
        $this->service = $service;
        $this->title = $title;
        $this->severity = $severity;
        $this->openedAt = $openedAt;
        $this->replayed = $replayed;
    }

    /** By what its course goes on. */
    public function goesBy(Configuration $configuration): Configuration
    {
        return $this->rehearsedWith === null ? $configuration : $configuration->rehearsing($this->rehearsedWith);
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The incident is not saved yet');
    }
}

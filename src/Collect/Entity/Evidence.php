<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Collect\Repository\EvidenceRepository;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;

/** What was seen when a check was not answered as it should. Written by the collector, see CheckStates. */
#[ORM\Entity(repositoryClass: EvidenceRepository::class, readOnly: true)]
#[ORM\Table(name: 'evidence')]
#[ORM\Index(name: 'evidence_of', columns: ['target_id', 'place', 'at'])]
#[ORM\Index(name: 'evidence_at', columns: ['at'])]
class Evidence
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: 'bigint')]
    public int $id;

    #[ORM\Column]
    public int $targetId;

    #[ORM\Column]
    public int $place;

    #[ORM\Column(type: 'instant')]
    public Instant $at;

    #[ORM\Column(length: 10, enumType: Verdict::class)]
    public Verdict $verdict;

    #[ORM\Column(length: 1000)]
    public string $words;

    #[ORM\Column]
    public float $seconds;

    /** @var list<array<string, mixed>> step by step, without the answers' text */
    #[ORM\Column(type: 'json')]
    public array $steps;

    /** @var resource|null the head and the beginning of the last answer, deflated */
    #[ORM\Column(type: 'blob', nullable: true)]
    public mixed $kept;

    /** How much it takes. */
    #[ORM\Column(options: ['default' => 0])]
    public int $bytes;
}

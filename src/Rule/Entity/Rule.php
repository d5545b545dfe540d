<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Time\Instant;

/** A rule is a list of revisions, of which one is in service. */
#[ORM\Entity(repositoryClass: RuleRepository::class)]
#[ORM\Table(name: 'rule')]
#[ORM\UniqueConstraint(name: 'rule_file_key', columns: ['file_key'])]
class Rule
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** That of the revision in service: no other rule is called so. */
    #[ORM\Column(length: 120, unique: true)]
    public string $name;

    #[ORM\ManyToOne(fetch: 'EAGER', cascade: ['persist'])]
    #[ORM\JoinColumn(nullable: false)]
    public RuleRevision $inService;

    #[ORM\Column]
    public bool $enabled = true;

    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    #[ORM\Column(type: 'instant')]
    public Instant $createdAt;

    /** What it is called in the file it comes from; null: it was made here. */
    #[ORM\Column(length: 120, nullable: true)]
    public ?string $fileKey = null;

    #[ORM\Column(length: 255, nullable: true)]
    public ?string $fileName = null;

    /** The revision that the file said when it was applied last; where another is in service, somebody changed it here since. */
    #[ORM\Column(nullable: true)]
    public ?int $appliedId = null;

    public function __construct(string $name, RuleRevision $inService, Instant $createdAt)
    {
        $this->name = $name;
        $this->inService = $inService;
        $this->createdAt = $createdAt;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The rule is not saved yet');
    }

    public function wasChangedByHand(): bool
    {
        return $this->appliedId !== null && $this->appliedId !== $this->inService->id;
    }
}

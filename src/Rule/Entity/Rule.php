<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Time\Instant;

/** A rule is a list of revisions, of which one is in service. */
#[ORM\Entity(repositoryClass: RuleRepository::class)]
#[ORM\Table(name: 'rule')]
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
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Rule\Repository\RuleDraftRepository;
use Olivine\Core\Time\Instant;

/** A rule as somebody left it on the way: what is not in service yet, and may not be whole either. */
#[ORM\Entity(repositoryClass: RuleDraftRepository::class)]
#[ORM\Table(name: 'rule_draft')]
class RuleDraft
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** Counts the changes; who saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    /**
     * @param int|null             $ruleId     that it would change; null: it would be a new one
     * @param array<string, mixed> $definition as it is written in a request
     */
    public function __construct(
        #[ORM\Column(nullable: true, unique: true)]
        public ?int $ruleId,
        #[ORM\Column(type: 'json')]
        public array $definition,
        #[ORM\Column]
        public bool $enabled,
        #[ORM\Column(nullable: true)]
        public ?int $authorId,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The draft is not saved yet');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Rule\Repository\RuleRevisionRepository;
use Olivine\Core\Time\Instant;

/** One state of a rule: what it said, by whom, when and why. It stays, also when the rule is changed or removed. */
#[ORM\Entity(repositoryClass: RuleRevisionRepository::class)]
#[ORM\Table(name: 'rule_revision')]
#[ORM\Index(name: 'rule_revision_rule', columns: ['rule_id', 'number'])]
class RuleRevision
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /**
     * @param int                  $ruleId     0 until the rule itself is kept
     * @param int                  $number     from 1 on, of each rule
     * @param array<string, mixed> $definition as it is written in a request
     */
    public function __construct(
        #[ORM\Column]
        public int $ruleId,
        #[ORM\Column(type: 'integer')]
        public int $number,
        #[ORM\Column(type: 'json')]
        public array $definition,
        #[ORM\Column(nullable: true)]
        public ?int $authorId,
        #[ORM\Column(length: 300)]
        public string $reason,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The revision is not saved yet');
    }
}

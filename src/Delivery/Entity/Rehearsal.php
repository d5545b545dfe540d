<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\RehearsalRepository;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/** An alert that is played with people who agreed: asked for, begun, and over. Its incident says what became of it. */
#[ORM\Entity(repositoryClass: RehearsalRepository::class)]
#[ORM\Table(name: 'rehearsal')]
#[ORM\Index(name: 'rehearsal_ended', columns: ['ended_at'])]
class Rehearsal
{
    public const RULE_LENGTH = 120;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(nullable: true)]
    public ?int $incidentId = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $begunAt = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $endedAt = null;

    #[ORM\Column(length: 40)]
    public string $endedHow = '';

    /**
     * @param string                $rule   its name as it was then
     * @param array<string, string> $labels
     * @param array<int, int|null>  $people who is asked → when they agreed, ms; null: not yet
     */
    public function __construct(
        #[ORM\Column]
        public int $ruleId,
        #[ORM\Column(length: self::RULE_LENGTH)]
        public string $rule,
        #[ORM\Column(type: 'json')]
        public array $labels,
        #[ORM\Column(length: 10, enumType: Severity::class)]
        public Severity $severity,
        #[ORM\Column(type: 'json')]
        public array $people,
        #[ORM\Column]
        public int $askedBy,
        #[ORM\Column(type: 'instant')]
        public Instant $askedAt,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The rehearsal is not saved yet');
    }

    /** @return list<int> */
    public function agreed(): array
    {
        return array_keys(array_filter($this->people, is_int(...)));
    }

    public function isRunning(): bool
    {
        return $this->begunAt !== null && $this->endedAt === null;
    }

    public function isOver(): bool
    {
        return $this->endedAt !== null;
    }

    /** What its alert is known by: no other alert of the rule is, so that what is in earnest goes its own way. */
    public function labelsHash(): string
    {
        return "rehearsal {$this->id()}";
    }
}

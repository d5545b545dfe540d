<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Threshold;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

#[ORM\Entity(repositoryClass: RuleRepository::class)]
#[ORM\Table(name: 'rule')]
class Rule
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: 120, unique: true)]
    public string $name;

    #[ORM\Column(type: 'text')]
    public string $formula;

    #[ORM\Column(length: 10, enumType: Severity::class)]
    public Severity $severity;

    #[ORM\Column(length: 10, enumType: Direction::class)]
    public Direction $direction = Direction::Above;

    #[ORM\Column(name: 'limit_value')]
    public float $limit;

    #[ORM\Column]
    public int $holdSeconds = 300;

    #[ORM\Column]
    public float $clearLimit;

    #[ORM\Column]
    public int $clearHoldSeconds = 300;

    #[ORM\Column]
    public int $blindAfterSeconds = 600;

    #[ORM\Column(length: 10, nullable: true, enumType: Severity::class)]
    public ?Severity $blindSeverity = null;

    /** After so long without readings an alert ends as lost from sight. */
    #[ORM\Column]
    public int $lostAfterSeconds = 259_200;
    #[ORM\Column(nullable: true)]
    public ?float $worseLimit = null;

    #[ORM\Column(length: 10, nullable: true, enumType: Severity::class)]
    public ?Severity $worseSeverity = null;

    #[ORM\Column(length: 120)]
    public string $service = '';

    #[ORM\Column(length: 2000)]
    public string $runbook = '';

    #[ORM\Column]
    public int $stepSeconds = 15;

    #[ORM\Column]
    public bool $enabled = true;

    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    #[ORM\Column(type: 'instant')]
    public Instant $createdAt;

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The rule is not saved yet');
    }

    public function step(): Duration
    {
        return Duration::ofSeconds($this->stepSeconds);
    }

    /** @throws BadRule naming the field that cannot be so */
    public function threshold(): Threshold
    {
        return new Threshold(
            $this->severity,
            $this->direction,
            $this->limit,
            Duration::ofSeconds($this->holdSeconds),
            $this->clearLimit,
            Duration::ofSeconds($this->clearHoldSeconds),
            Duration::ofSeconds($this->blindAfterSeconds),
            $this->blindSeverity,
            $this->worseLimit,
            $this->worseSeverity,
            Duration::ofSeconds($this->lostAfterSeconds),
        );
    }
}

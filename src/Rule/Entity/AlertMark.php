<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Rule\Repository\AlertMarkRepository;
use Olivine\Core\Rule\Worth;
use Olivine\Core\Time\Instant;

/** Whether an alert was worth it, of one that was or of one that a replay found: it speaks for whatever is raised there and then. */
#[ORM\Entity(repositoryClass: AlertMarkRepository::class)]
#[ORM\Table(name: 'alert_mark')]
#[ORM\UniqueConstraint(name: 'alert_mark_alert', columns: ['rule_id', 'labels_hash', 'raised_at'])]
class AlertMark
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** @param array<string, string> $labels */
    public function __construct(
        #[ORM\Column]
        public int $ruleId,
        #[ORM\Column(length: 32, options: ['fixed' => true])]
        public string $labelsHash,
        #[ORM\Column(type: 'json')]
        public array $labels,
        #[ORM\Column(type: 'instant')]
        public Instant $raisedAt,
        #[ORM\Column(type: 'instant', nullable: true)]
        public ?Instant $clearedAt,
        #[ORM\Column(length: 10, enumType: Worth::class)]
        public Worth $worth,
        #[ORM\Column(nullable: true)]
        public ?int $authorId,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Rule\AlertKey;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** One rule on one label set within an incident; a rule that cannot be evaluated has no labels. */
#[ORM\Entity(repositoryClass: IncidentAlertRepository::class)]
#[ORM\Table(name: 'incident_alert')]
#[ORM\Index(name: 'incident_alert_alert', columns: ['rule_id', 'labels_hash', 'cleared_at'])]
#[ORM\Index(name: 'incident_alert_target', columns: ['target', 'incident_id'])]
class IncidentAlert
{
    /** In place of the hash of labels where the rule itself is what is wrong. */
    public const BROKEN = 'broken';
    private const LONGEST_TARGET = 200;
    private const LONGEST_WORDS = 1_000;

    #[ORM\Id, ORM\Column]
    public int $incidentId;

    #[ORM\Id, ORM\Column]
    public int $ruleId;

    #[ORM\Id, ORM\Column(length: 32, options: ['fixed' => true])]
    public string $labelsHash;

    /** What the rule said when it raised this last; 0: as it says now. */
    #[ORM\Column]
    public int $revisionId = 0;

    #[ORM\Column(type: 'text')]
    public string $labels;

    /** The labels, and what else a path can tell it by; null of what was raised when there was one path. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $about = null;

    /** What target it is about, for that target's page. */
    #[ORM\Column(length: self::LONGEST_TARGET)]
    public string $target = '';

    #[ORM\Column(type: 'instant')]
    public Instant $onsetAt;

    #[ORM\Column(type: 'instant')]
    public Instant $raisedAt;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $clearedAt = null;

    /** How it ended: the phase, or "" while it is raised. */
    #[ORM\Column(length: 10)]
    public string $ended = '';

    #[ORM\Column(length: 10, enumType: Severity::class)]
    public Severity $severity;

    #[ORM\Column(nullable: true)]
    public ?float $raisedValue = null;

    /** @var array<string, float>|null beside the value, by which it was judged */
    #[ORM\Column(type: 'json', nullable: true)]
    public ?array $raisedNumbers = null;

    #[ORM\Column(nullable: true)]
    public ?float $peakValue = null;

    #[ORM\Column]
    public bool $blind = false;

    #[ORM\Column(length: 10)]
    public string $kind = 'alert';

    /** Why the rule cannot be evaluated, where that is what was raised. */
    #[ORM\Column(length: self::LONGEST_WORDS)]
    public string $words = '';

    private function __construct(int $incidentId, int $ruleId, string $hash, LabelSet $labels, Severity $severity)
    {
        $this->incidentId = $incidentId;
        $this->ruleId = $ruleId;
        $this->labelsHash = $hash;
        $this->labels = AlertKey::json($labels);
        $this->target = mb_substr($labels->get('target'), 0, self::LONGEST_TARGET);
        $this->severity = $severity;
    }

    /**
     * @param float|null           $value   null where it was raised for want of readings
     * @param array<string, float> $numbers beside it
     */
    public static function raised(
        int $incidentId,
        int $ruleId,
        int $revisionId,
        string $labelsHash,
        LabelSet $labels,
        Instant $onsetAt,
        Instant $at,
        Severity $severity,
        ?float $value,
        array $numbers,
        bool $blind,
    ): self {
        $alert = new self($incidentId, $ruleId, $labelsHash, $labels, $severity);
        $alert->revisionId = $revisionId;
        $alert->raisedNumbers = $numbers === [] ? null : $numbers;
        $alert->onsetAt = $onsetAt;
        $alert->raisedAt = $at;
        $alert->raisedValue = $value;
        $alert->peakValue = $value;
        $alert->blind = $blind;

        return $alert;
    }

    public static function broken(int $incidentId, int $ruleId, Instant $since, Instant $at, string $why): self
    {
        $alert = new self($incidentId, $ruleId, self::BROKEN, LabelSet::none(), Severity::Major);
        $alert->kind = self::BROKEN;
        $alert->brokenAgain($since, $at, $why);

        return $alert;
    }

    public function brokenAgain(Instant $since, Instant $at, string $why): void
    {
        $this->onsetAt = $since;
        $this->words = mb_substr($why, 0, self::LONGEST_WORDS);
        $this->raiseAgain($at, Severity::Major);
    }

    /** What was over in an incident that is not comes up once more. */
    public function raiseAgain(Instant $at, Severity $severity, int $revisionId = 0): void
    {
        $this->revisionId = $revisionId;
        $this->clearedAt = null;
        $this->ended = '';
        $this->raisedAt = $at;
        $this->severity = $severity;
    }

    /** @param Phase|null $how null where somebody said so */
    public function end(Instant $at, ?Phase $how): void
    {
        $this->clearedAt = $at;
        $this->ended = $how->value ?? '';
    }

    public function labelSet(): LabelSet
    {
        return AlertKey::labels($this->labels);
    }

    /** Its labels, and what else a path can tell it by. */
    public function about(): LabelSet
    {
        return AlertKey::labels($this->about ?? $this->labels);
    }

    public function matchedBy(LabelSet $about): void
    {
        $this->about = AlertKey::json($about);
    }

    public function isBroken(): bool
    {
        return $this->kind === self::BROKEN;
    }
}

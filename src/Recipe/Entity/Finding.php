<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Recipe\Repository\FindingRepository;
use Olivine\App\Rule\AlertKey;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** A known fault that was found in one place: since when, and whether somebody left it aside, with why. */
#[ORM\Entity(repositoryClass: FindingRepository::class)]
#[ORM\Table(name: 'finding')]
#[ORM\UniqueConstraint(name: 'finding_place', columns: ['recipe', 'finding_key', 'labels_hash'])]
class Finding
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(type: 'instant')]
    public Instant $lastAt;

    /** When it was not found any more; null as long as it is. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $goneAt = null;

    #[ORM\Column]
    public float $value = 0.0;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $asideAt = null;

    #[ORM\Column(length: 200)]
    public string $asideBy = '';

    #[ORM\Column(length: 300)]
    public string $reason = '';

    /** Of where, as alerts have it; a target that is called otherwise takes its findings along. */
    #[ORM\Column(length: 32, options: ['fixed' => true])]
    public string $labelsHash;

    /** @var array<string, string> where */
    #[ORM\Column(type: 'json')]
    public array $labels;

    public function __construct(
        #[ORM\Column(length: 60)]
        public string $recipe,
        #[ORM\Column(name: 'finding_key', length: 120)]
        public string $key,
        LabelSet $labels,
        #[ORM\Column(type: 'instant')]
        public Instant $firstAt,
    ) {
        $this->lastAt = $firstAt;
        [$this->labels, $this->labelsHash] = [$labels->labels, AlertKey::hash($labels)];
    }

    /** By which it is the same finding at the same place. */
    public function identity(): string
    {
        return "{$this->recipe} {$this->key} {$this->labelsHash}";
    }

    /** Found again; what was gone in between begins anew, and is aside no more. */
    public function found(float $value, Instant $now): void
    {
        if ($this->goneAt !== null) {
            [$this->firstAt, $this->goneAt] = [$now, null];
            $this->back();
        }
        [$this->value, $this->lastAt] = [$value, $now];
    }

    public function aside(string $by, string $reason, Instant $now): void
    {
        [$this->asideAt, $this->asideBy, $this->reason] = [$now, mb_substr($by, 0, 200), $reason];
    }

    public function back(): void
    {
        [$this->asideAt, $this->asideBy, $this->reason] = [null, '', ''];
    }
}

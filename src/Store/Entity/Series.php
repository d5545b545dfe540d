<?php

declare(strict_types=1);

namespace Olivine\App\Store\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A metric with its labels, from one target; its place in the store is a slot of a page. */
#[ORM\Entity]
#[ORM\Table(name: 'series')]
#[ORM\UniqueConstraint(name: 'series_identity', columns: ['target_id', 'identity'])]
#[ORM\UniqueConstraint(name: 'series_slot', columns: ['page', 'slot'])]
#[ORM\Index(name: 'series_metric', columns: ['metric_id', 'target_id'])]
class Series
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column]
    public int $targetId;

    #[ORM\Column]
    public int $metricId;

    #[ORM\Column]
    public int $page;

    #[ORM\Column(type: 'smallint')]
    public int $slot;

    /** @var array<string, string> those of the text; the target's are laid over them when it is read */
    #[ORM\Column(type: 'json')]
    public array $labels;
    /** Whether its own labels go before the target's: readings that were brought from elsewhere. */
    #[ORM\Column]
    public bool $bringsLabels = false;

    /** First 16 bytes of the SHA-256 of name and labels as the text brings them, in hexadecimal. */
    #[ORM\Column(length: 32, options: ['fixed' => true])]
    public string $identity;

    #[ORM\Column(type: 'bigint')]
    public int $firstAt;

    /** @param array<string, string> $labels */
    public function __construct(int $targetId, int $metricId, int $page, int $slot, array $labels, string $identity, int $firstAt)
    {
        $this->targetId = $targetId;
        $this->metricId = $metricId;
        $this->page = $page;
        $this->slot = $slot;
        $this->labels = $labels;
        $this->identity = $identity;
        $this->firstAt = $firstAt;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Instant;

/** One recorded reason of an incident. Lines are only ever added. */
#[ORM\Entity]
#[ORM\Table(name: 'trail')]
#[ORM\UniqueConstraint(name: 'trail_once', columns: ['incident_id', 'once_key'])]
#[ORM\Index(name: 'trail_incident', columns: ['incident_id', 'at'])]
class TrailLine
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: 'bigint', options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column]
    public int $incidentId;

    #[ORM\Column(type: 'instant')]
    public Instant $at;

    #[ORM\Column(length: 20, enumType: TrailKind::class)]
    public TrailKind $kind;

    #[ORM\Column(length: 2000)]
    public string $words;

    /** A line with the same key is written once, however often the work is done. */
    #[ORM\Column(length: 160, nullable: true)]
    public ?string $onceKey = null;
}

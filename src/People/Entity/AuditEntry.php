<?php

declare(strict_types=1);

namespace Olivine\App\People\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\People\Repository\AuditRepository;
use Olivine\Core\Time\Instant;

/** One change: who, when, to what, from what, from where. Rows are only ever added. */
#[ORM\Entity(repositoryClass: AuditRepository::class)]
#[ORM\Table(name: 'audit_entry')]
#[ORM\Index(name: 'audit_at', columns: ['at'])]
class AuditEntry
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /**
     * @param array<string, mixed>|null $before
     * @param array<string, mixed>|null $after
     */
    public function __construct(
        #[ORM\Column(type: 'instant')]
        public Instant $at,
        #[ORM\Column(nullable: true)]
        public ?int $personId,
        #[ORM\Column(length: 60)]
        public string $action,
        #[ORM\Column(length: 120)]
        public string $subject,
        #[ORM\Column(name: 'value_before', type: 'json', nullable: true)]
        public ?array $before,
        #[ORM\Column(name: 'value_after', type: 'json', nullable: true)]
        public ?array $after,
        #[ORM\Column(length: 64)]
        public string $address,
    ) {
    }
}

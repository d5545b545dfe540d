<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\TicketRepository;
use Olivine\Core\Time\Instant;

/** What a desk made of an incident: one ticket, and how it stands over there. */
#[ORM\Entity(repositoryClass: TicketRepository::class)]
#[ORM\Table(name: 'ticket')]
#[ORM\UniqueConstraint(name: 'ticket_once', columns: ['incident_id', 'channel'])]
class Ticket
{
    public const KEY_LENGTH = 80;
    private const STATE_LENGTH = 40;
    private const OWNER_LENGTH = 120;
    private const URL_LENGTH = 500;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: self::STATE_LENGTH)]
    public string $state = '';

    #[ORM\Column(length: self::OWNER_LENGTH)]
    public string $owner = '';

    #[ORM\Column(length: self::URL_LENGTH)]
    public string $url = '';

    /** @param string $key by which the desk calls it */
    public function __construct(
        #[ORM\Column(length: KeptChannel::NAME_LENGTH)]
        public string $channel,
        #[ORM\Column]
        public int $incidentId,
        #[ORM\Column(name: 'ticket_key', length: self::KEY_LENGTH)]
        public string $key,
        #[ORM\Column(type: 'instant')]
        public Instant $lookedAt,
    ) {
    }

    /** @param array<array-key, mixed> $said by the desk */
    public function stands(array $said, Instant $at): void
    {
        $text = static fn(string $name, int $most): ?string => is_string($said[$name] ?? null) ? mb_substr(mb_scrub($said[$name]), 0, $most) : null;
        $this->state = $text('state', self::STATE_LENGTH) ?? $this->state;
        $this->owner = $text('owner', self::OWNER_LENGTH) ?? $this->owner;
        $url = $text('url', self::URL_LENGTH);
        // It is a link on our pages.
        $this->url = $url !== null && preg_match('~^https?://~', $url) === 1 ? $url : $this->url;
        $this->lookedAt = $at;
    }
}

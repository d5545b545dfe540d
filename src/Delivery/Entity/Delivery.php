<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\DeliveryStatus;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Time\Instant;

/** One message to one person through one channel, planned once; sent at least once under the same key. */
#[ORM\Entity(repositoryClass: DeliveryRepository::class)]
#[ORM\Table(name: 'delivery')]
#[ORM\UniqueConstraint(name: 'delivery_once', columns: ['incident_id', 'kind', 'round', 'person_id', 'channel'])]
#[ORM\UniqueConstraint(name: 'delivery_key', columns: ['message_key'])]
#[ORM\Index(name: 'delivery_next', columns: ['status', 'next_at'])]
#[ORM\Index(name: 'delivery_sent', columns: ['kind', 'sent_at'])]
#[ORM\Index(name: 'delivery_to', columns: ['person_id', 'channel', 'sent_at'])]
class Delivery
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: 'bigint', options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column]
    public int $incidentId;

    #[ORM\Column(length: 20, enumType: MessageKind::class)]
    public MessageKind $kind;

    /** Of a raise the rung; of "worse" the rank of the severity; else 1. */
    #[ORM\Column(type: 'smallint')]
    public int $round;

    #[ORM\Column]
    public int $personId;

    /** The way it goes: `e-mail`, `e-mail/phone`, or the name of a channel. */
    #[ORM\Column(length: KeptChannel::NAME_LENGTH)]
    public string $channel;

    #[ORM\Column(type: 'instant')]
    public Instant $dueAt;

    #[ORM\Column(length: 12, enumType: DeliveryStatus::class)]
    public DeliveryStatus $status;

    #[ORM\Column(type: 'smallint')]
    public int $attempts = 0;

    #[ORM\Column(type: 'instant')]
    public Instant $nextAt;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $sentAt = null;

    /** When it was found to be one of too many in an hour or a minute: it is told together with others. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $withheldAt = null;

    /** Of a rehearsal: it is counted nowhere. */
    #[ORM\Column(options: ['default' => false])]
    public bool $rehearsed = false;

    /** What the channel said of it last. */
    #[ORM\Column(length: 500)]
    public string $answer = '';

    #[ORM\Column(length: 120)]
    public string $messageKey;

    /** Whether it is told together with others that wait for the same person by the same way. */
    public function isToldTogether(): bool
    {
        return $this->withheldAt !== null || $this->kind->isCopy();
    }

    /** Whether it was sent, or may have been. */
    public function wasTried(): bool
    {
        return $this->attempts > 0 || $this->status === DeliveryStatus::Sent;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The delivery is not saved yet');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\Core\Time\Instant;

/** A way to reach one person beside the one that all have: an address of a channel, and whether it was found to work. */
#[ORM\Entity(repositoryClass: ContactMethodRepository::class)]
#[ORM\Table(name: 'contact_method')]
#[ORM\UniqueConstraint(name: 'contact_method_label', columns: ['person_id', 'channel', 'label'])]
class ContactMethod
{
    public const LABEL_LENGTH = 30;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** Null: nobody said yet that a code arrived there. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $verifiedAt = null;

    #[ORM\Column(length: 64)]
    public string $codeDigest = '';

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $codeAt = null;

    #[ORM\Column(type: 'smallint')]
    public int $codeTries = 0;

    /** Whether the last code lay among junk. */
    #[ORM\Column]
    public bool $wasJunk = false;

    /**
     * @param string $label   "": of the address that the person signs in with
     * @param string $address "": that one
     */
    public function __construct(
        #[ORM\Column]
        public int $personId,
        #[ORM\Column(length: 20)]
        public string $channel,
        #[ORM\Column(length: self::LABEL_LENGTH)]
        public string $label,
        #[ORM\Column(length: 180)]
        public string $address,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The contact method is not saved yet');
    }

    /** As deliveries and wishes name it: `e-mail`, `e-mail/phone`. */
    public function way(): string
    {
        return $this->label === '' ? $this->channel : "{$this->channel}/{$this->label}";
    }
}

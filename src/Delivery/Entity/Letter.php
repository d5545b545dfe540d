<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\DeliveryStatus;
use Olivine\App\Delivery\Repository\LetterRepository;
use Olivine\Core\Time\Instant;

/** What goes to one person and is of no incident: a code, a cover that is asked for, a handover note. */
#[ORM\Entity(repositoryClass: LetterRepository::class)]
#[ORM\Table(name: 'letter')]
#[ORM\UniqueConstraint(name: 'letter_key', columns: ['letter_key'])]
#[ORM\Index(name: 'letter_next', columns: ['status', 'next_at'])]
class Letter
{
    public const SUBJECT_LENGTH = 200;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: 12, enumType: DeliveryStatus::class)]
    public DeliveryStatus $status = DeliveryStatus::Planned;

    #[ORM\Column(type: 'smallint')]
    public int $attempts = 0;

    #[ORM\Column(type: 'instant')]
    public Instant $nextAt;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $sentAt = null;

    /** What the other side said of it last. */
    #[ORM\Column(length: 500)]
    public string $answer = '';

    /**
     * @param string $way     `e-mail`, or the name of a channel
     * @param string $address "": where the person is reached by it else
     * @param string $key     by which whoever receives it knows a repeat; planned twice it is sent once
     */
    public function __construct(
        #[ORM\Column]
        public int $personId,
        #[ORM\Column(length: KeptChannel::NAME_LENGTH)]
        public string $way,
        #[ORM\Column(length: 180)]
        public string $address,
        #[ORM\Column(length: self::SUBJECT_LENGTH)]
        public string $subject,
        #[ORM\Column(type: 'text')]
        public string $text,
        #[ORM\Column(name: 'letter_key', length: 120)]
        public string $key,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
        $this->nextAt = $at;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The letter is not saved yet');
    }
}

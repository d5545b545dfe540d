<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\Delivery\Channel\SignedReceiver;
use Olivine\App\Delivery\Repository\KeptChannelRepository;

/** A way to reach people through another program: where it listens, and what is signed with. */
#[ORM\Entity(repositoryClass: KeptChannelRepository::class)]
#[ORM\Table(name: 'channel')]
class KeptChannel implements SignedReceiver
{
    use SpokenToSigned;

    public const NAME_LENGTH = 40;
    public const ROOM_LENGTH = 80;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    /**
     * @param string $name     as deliveries and the trail name it
     * @param string $secret   what goes there and what comes back is signed with, sealed
     * @param bool   $standsIn whether it is told what another way did not take
     * @param string $room     of a chat: where it is said; of tickets: for whose desk; of SMS and voice: who is shown as the sender
     * @param int    $price    of a message, in thousandths of the currency
     */
    public function __construct(
        #[ORM\Column(length: self::NAME_LENGTH, unique: true)]
        public string $name,
        #[ORM\Column(length: 12, enumType: ChannelKind::class)]
        public ChannelKind $kind,
        #[ORM\Column(length: 2_000)]
        public string $url,
        #[ORM\Column(type: 'text')]
        public string $secret,
        #[ORM\Column]
        public bool $standsIn,
        #[ORM\Column(length: self::ROOM_LENGTH)]
        public string $room = '',
        #[ORM\Column(type: 'integer')]
        public int $price = 0,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The channel is not saved yet');
    }
}

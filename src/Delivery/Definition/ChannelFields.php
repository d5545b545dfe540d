<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Secret;
use Olivine\App\Platform\Definition\Field\Whole;

/** A way to reach people through another program. */
final readonly class ChannelFields
{
    public const SHORTEST_SECRET = 16;

    /**
     * @param string      $name     one word, as the trail will say it
     * @param string|null $secret   what goes there and comes back is signed with; null: as it is, or of a new one a made-up one
     * @param bool        $standsIn whether it is told what another way did not take
     * @param string      $room     of a chat the room, of tickets the desk, of SMS and voice who is shown as the sender
     * @param int         $price    of a message, in thousandths
     * @param int|null    $version  what was read, to change it
     */
    public function __construct(
        #[Line(KeptChannel::NAME_LENGTH, 1)]
        public string $name,
        #[Line(2_000, 1)]
        public string $url,
        public ChannelKind $kind = ChannelKind::Webhook,
        #[Secret(200)]
        public ?string $secret = null,
        public bool $standsIn = true,
        #[Line(KeptChannel::ROOM_LENGTH)]
        public string $room = '',
        #[Whole(0, 100_000)]
        public int $price = 0,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

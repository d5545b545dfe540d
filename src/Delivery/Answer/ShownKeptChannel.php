<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Channel\ChannelKind;

/** A channel as it is set up, without its secret; where one was made up it is shown once. */
final readonly class ShownKeptChannel
{
    /** @param int $price of a message, in thousandths */
    public function __construct(
        public int $id,
        public string $name,
        public ChannelKind $kind,
        public string $url,
        public bool $standsIn,
        public string $room,
        public int $price,
        public int $version,
        public ?string $secret = null,
    ) {
    }
}

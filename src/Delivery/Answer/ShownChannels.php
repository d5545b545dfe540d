<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class ShownChannels
{
    /**
     * @param list<ChannelState>  $channels in the order in which they are tried
     * @param list<FailedMessage> $failed   the newest of the last days
     */
    public function __construct(public array $channels, public array $failed)
    {
    }
}

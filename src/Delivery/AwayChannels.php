<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\AwayChannel;
use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Repository\DeliveryRepository;

/** The ways to reach people that do not take what they should: because they are not set up, are away, or refuse it. */
final readonly class AwayChannels
{
    public function __construct(private Channels $channels, private DeliveryRepository $deliveries)
    {
    }

    /** @return array<string, AwayChannel> by name */
    public function now(): array
    {
        $away = array_column($this->deliveries->away(), null, 'name');
        foreach ($this->channels->all() as $channel) {
            foreach ($channel->ways() as $way) {
                $missing = $channel->missing($way);
                if ($missing !== '') {
                    $away[$way] = new AwayChannel($way, $missing, $away[$way]->since ?? null, false, $away[$way]->waiting ?? 0);
                }
            }
        }

        return $away;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Symfony\Component\DependencyInjection\Attribute\AutowireIterator;

/** All ways to reach people that there are. */
final readonly class Channels
{
    /** @param iterable<Channel> $channels */
    public function __construct(
        #[AutowireIterator('olivine.channel')]
        private iterable $channels,
    ) {
    }

    public function named(string $name): ?Channel
    {
        foreach ($this->channels as $channel) {
            if ($channel->name() === $name) {
                return $channel;
            }
        }

        return null;
    }

    /** @return list<string> of those that were set up otherwise since they were asked last */
    public function setAnew(): array
    {
        $anew = [];
        foreach ($this->channels as $channel) {
            if ($channel->wasSetAnew()) {
                $anew[] = $channel->name();
            }
        }

        return $anew;
    }

    public function rest(): void
    {
        foreach ($this->channels as $channel) {
            $channel->rest();
        }
    }
}

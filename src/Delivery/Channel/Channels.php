<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Platform\PartName;
use Symfony\Component\DependencyInjection\Attribute\AutowireIterator;

/** All kinds of ways to reach people that there are. */
final readonly class Channels
{
    /** @param iterable<Channel> $channels */
    public function __construct(
        #[AutowireIterator('olivine.channel')]
        private iterable $channels,
    ) {
    }

    /** @return list<Channel> */
    public function all(): array
    {
        return iterator_to_array($this->channels, false);
    }

    /** @return list<string> every way that is set up */
    public function ways(): array
    {
        return array_merge(...array_map(static fn(Channel $one): array => $one->ways(), $this->all()));
    }

    /** @return list<string> these, and those that single people have beside them */
    public function allWays(): array
    {
        return array_merge(...array_map(static fn(Channel $one): array => [...$one->ways(), ...$one->personal()], $this->all()));
    }

    /** Whose queue a part empties. */
    public function of(PartName $part): Channel
    {
        return array_find($this->all(), static fn(Channel $one): bool => $one->part() === $part)
            ?? throw new \LogicException("{$part->value} sends nothing");
    }

    /** @return Channel|null of which a way is one; null where there is none of this name any more */
    public function with(string $way): ?Channel
    {
        return array_find($this->all(), static fn(Channel $one): bool => in_array($way, [...$one->ways(), ...$one->personal()], true));
    }
}

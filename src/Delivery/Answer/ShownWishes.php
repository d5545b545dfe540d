<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Definition\WishesDefinition;

/** How somebody wants to be told, and by which channels they could be. */
final readonly class ShownWishes
{
    /**
     * @param list<string> $channels
     * @param list<string> $usedBy   rungs and copies that go by it
     */
    public function __construct(public WishesDefinition $definition, public array $channels, public array $usedBy, public string $zone)
    {
    }
}

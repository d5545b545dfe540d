<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Roster\Rotation;

/** What people set up of who hears of what. */
final readonly class Configuration
{
    /**
     * @param Rotation|null          $rotation  null while nobody takes shifts
     * @param bool                   $looksBack whether what is found now lies in the past, so that nobody is told
     * @param non-empty-list<string> $ways      to reach people: where one does not take a message, the next one is tried
     */
    public function __construct(
        public Ladder $ladder,
        public ?Rotation $rotation,
        public bool $looksBack = false,
        public array $ways = ['e-mail'],
    ) {
    }

    /** @return string|null where a way fails, the one after it; null where it is the last, or there is none of this name any more */
    public function wayAfter(string $way): ?string
    {
        $place = array_search($way, $this->ways, true);

        return $place === false ? null : $this->ways[$place + 1] ?? null;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

/** A rotation and its turns. */
final readonly class ShownRotation
{
    /**
     * @param string          $words when turns change: `weekly, Mon 08:00`
     * @param list<ShownTurn> $turns
     */
    public function __construct(
        public string $name,
        public string $words,
        public array $turns,
    ) {
    }
}

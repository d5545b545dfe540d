<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

/** A roster at a glance. */
final readonly class RosterRow
{
    /**
     * @param string|null $next who takes over from whoever is on call now
     * @param int         $gaps within the next fortnight
     */
    public function __construct(
        public int $id,
        public string $name,
        public string $zone,
        public ShownShift $now,
        public ?string $next,
        public int $gaps,
        public ?ShownShift $firstGap,
    ) {
    }
}

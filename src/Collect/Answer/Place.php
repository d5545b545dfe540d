<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** One place, how its station is, and whether it is cut off. */
final readonly class Place
{
    /**
     * @param bool             $isCentre    where Olivine itself runs, without a station
     * @param int|null         $seenAt      when its station was heard of last
     * @param bool             $isSilent    it should have been heard of since
     * @param int              $checks      how many are asked from there
     * @param list<string>     $references  checks whose targets are always up
     * @param int|null         $cutOffSince since when it reaches none of them
     * @param StationLoad|null $load        what its station says of itself
     */
    public function __construct(
        public int $id,
        public string $name,
        public bool $isCentre,
        public ?int $seenAt,
        public bool $isSilent,
        public int $checks,
        public array $references,
        public ?int $cutOffSince,
        public ?StationLoad $load,
    ) {
    }
}

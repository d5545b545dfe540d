<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** What lets stations join; the token itself is told once, as it is made. */
final readonly class ShownStationToken
{
    /**
     * @param string      $names  a pattern that the names of the places fit
     * @param list<int>   $checks that are asked from whoever joins
     * @param int         $most   so many may join
     * @param int         $used   so many did
     * @param string|null $token  as it is made; null later
     */
    public function __construct(
        public int $id,
        public string $name,
        public string $names,
        public array $checks,
        public int $most,
        public int $used,
        public int $endsAt,
        public ?string $token,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Definition\MuteKind;
use Olivine\Core\Time\Instant;

/** What hushes, and what it hushes now. */
final readonly class ShownMute
{
    /**
     * @param string       $author "": Olivine
     * @param string       $from   as it was written, on the clocks of its zone
     * @param string       $to     of what comes again: of the first time
     * @param Instant|null $begins of the time that is now, or comes next; null: none comes any more
     * @param Instant|null $ends   of that
     * @param bool         $isNow  whether it hushes now
     * @param int          $hides  alerts that are up and are hushed by it now
     * @param list<string> $titles of some of these
     * @param list<int>    $comes  when it begins, as far as it is looked ahead: some of them
     */
    public function __construct(
        public int $id,
        public MuteKind $kind,
        public string $name,
        public string $matching,
        public string $reason,
        public string $author,
        public string $from,
        public string $to,
        public string $zone,
        public string $recurs,
        public ?Instant $begins,
        public ?Instant $ends,
        public bool $isNow,
        public int $hides,
        public array $titles,
        public array $comes,
        public int $version,
    ) {
    }
}

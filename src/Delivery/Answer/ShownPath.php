<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** A path as it is in service. */
final readonly class ShownPath
{
    /**
     * @param string          $for   which alerts, as a filter; empty: everything
     * @param string          $hours empty: always
     * @param list<string>    $per   labels that an incident's alerts share
     * @param int             $times its ladder is climbed
     * @param list<ShownRung> $rungs
     */
    public function __construct(
        public string $name,
        public string $for,
        public string $hours,
        public array $per,
        public int $gatherMs,
        public int $times,
        public array $rungs,
    ) {
    }
}

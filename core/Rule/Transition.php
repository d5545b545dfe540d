<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/** A change of phase, or a raised alert that grew worse (raised → raised). */
final readonly class Transition
{
    /**
     * @param string               $why     because of what it ended quietly, why it went blind, or who of a group is past its limit
     * @param array<string, float> $numbers beside the value, by which it was judged
     */
    public function __construct(
        public Instant $at,
        public Phase $from,
        public Phase $to,
        public ?Severity $severity,
        public ?float $value,
        public ?Instant $onset,
        public string $why = '',
        public array $numbers = [],
    ) {
    }
}

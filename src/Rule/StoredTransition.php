<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** Something that happened to an alert, as it was written down. */
final readonly class StoredTransition
{
    /**
     * @param array<string, float> $numbers beside the value, by which it was judged
     * @param Instant              $onset   when what it tells of began, at the latest when it happened
     */
    public function __construct(
        public int $id,
        public int $ruleId,
        public int $revisionId,
        public string $labelsHash,
        public LabelSet $labels,
        public Instant $at,
        public Phase $from,
        public Phase $to,
        public ?Severity $severity,
        public ?float $value,
        public array $numbers,
        public Instant $onset,
        public string $why,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** A rehearsal, and what became of it step by step. */
final readonly class ShownRehearsal
{
    /**
     * @param string                $words  how it went, as a sentence
     * @param list<RehearsedPerson> $people
     * @param list<RehearsedStep>   $steps  in the order of time
     */
    public function __construct(
        public int $id,
        public int $ruleId,
        public string $rule,
        public LabelSet $labels,
        public Severity $severity,
        public string $askedBy,
        public Instant $askedAt,
        public ?Instant $begunAt,
        public ?Instant $endedAt,
        public ?int $incident,
        public string $words,
        public array $people,
        public array $steps,
    ) {
    }
}

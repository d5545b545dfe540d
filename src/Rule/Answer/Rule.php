<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

readonly class Rule
{
    /**
     * @param string      $words    What makes it raise: above 400 messages
     * @param int         $revision The number of the revision in service
     * @param Severity    $severity How grave it is at least
     * @param string|null $fault    Why it cannot be evaluated
     * @param string|null $file     It comes from
     */
    public function __construct(
        public int $id,
        public RuleDefinition $definition,
        public bool $enabled,
        public ?Instant $brokenSince,
        public ?string $fault,
        public ?string $file,
        public int $revision,
        public Severity $severity,
        public string $unit,
        public int $version,
        public string $words,
    ) {
    }
}

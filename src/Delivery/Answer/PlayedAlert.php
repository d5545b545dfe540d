<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;

/** An alert that may be played, and what would become of it now. */
final readonly class PlayedAlert
{
    /** @param list<PlayedRung> $rungs */
    public function __construct(
        public LabelSet $labels,
        public string $name,
        public string $value,
        public Severity $severity,
        public string $path,
        public array $rungs,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\Severity;

/** A rule that raised something. */
final readonly class SpokenRule
{
    /**
     * @param int $incidents It opened: its alert was the first in them
     * @param int $noise     Alerts marked as noise
     * @param int $useful    Alerts marked as useful
     */
    public function __construct(
        public int $alerts,
        public int $id,
        public int $incidents,
        public string $name,
        public int $noise,
        public Severity $severity,
        public int $useful,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Number;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Severity;

/** From which limit on an alert is how grave. */
final readonly class LimitFields
{
    /** @param float|null $to the upper end, where the limit is a range */
    public function __construct(
        public Severity $severity,
        #[Number]
        public float $limit,
        #[Number]
        public ?float $to = null,
    ) {
    }

    public function level(): Level
    {
        return new Level($this->severity, $this->limit, $this->to ?? INF);
    }
}

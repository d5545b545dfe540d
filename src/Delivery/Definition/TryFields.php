<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Labels;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\Core\Rule\Severity;

/** A made-up alert, to see what would become of it. */
final readonly class TryFields
{
    /**
     * @param array<string, string> $labels
     * @param string                $at     empty: now; else `22:00`, `sat 22:00` or `2026-12-24 03:12` by the clocks of the site
     * @param bool                  $draft  by the draft, where there is one
     */
    public function __construct(
        #[Labels]
        public array $labels,
        public Severity $severity = Severity::Critical,
        #[Line(40)]
        public string $at = '',
        public bool $draft = false,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

use Olivine\Core\Series\LabelSet;

final readonly class Sample
{
    /** @param int|null $atMs the time the text gives, if it gives one */
    public function __construct(
        public string $name,
        public LabelSet $labels,
        public float $value,
        public ?int $atMs,
        public Family $family,
    ) {
    }
}

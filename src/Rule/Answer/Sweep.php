<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\Sweep as Setting;

final readonly class Sweep
{
    /**
     * @param list<FlatStretch> $flats  the longest first
     * @param list<SweptValue>  $values rising
     */
    public function __construct(
        public array $flats,
        public Setting $setting,
        public float $tookMs,
        public string $unit,
        public array $values,
    ) {
    }
}

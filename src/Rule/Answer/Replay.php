<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\App\Store\Answer\ChartLine;

final readonly class Replay
{
    /**
     * @param ?int            $knownFrom The first instant in the span that any series has a value at
     * @param list<ChartLine> $lines
     * @param list<Spell>     $spells
     */
    public function __construct(
        public int $first,
        public int $from,
        public ?int $knownFrom,
        public array $lines,
        public int $series,
        public array $spells,
        public int $step,
        public Timing $timing,
        public int $to,
        public float $tookMs,
        public string $unit,
    ) {
    }
}

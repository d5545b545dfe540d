<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\App\Delivery\Answer\Heard;
use Olivine\App\Store\Answer\ChartLine;
use Olivine\Core\Time\Instant;

final readonly class Replay
{
    /**
     * @param Instant|null               $knownFrom   The first instant in the span that any series has a value at
     * @param list<FlappingSpells>       $flapping    Alerts that come and go
     * @param list<ChartLine>            $lines
     * @param list<Spell>                $spells
     * @param UsualRange|null            $usual       Of a departure, for the line that was raised last
     * @param Heard                      $heard       By what is set up now of who hears, if nobody had acted
     * @param list<SpellDifference>|null $differences From the rule in service, where it was asked for: what both raise alike among them
     */
    public function __construct(
        public Instant $first,
        public array $flapping,
        public Instant $from,
        public ?Instant $knownFrom,
        public ?array $differences,
        public Heard $heard,
        public array $lines,
        public ?Instant $readingsFrom,
        public int $series,
        public array $spells,
        public int $step,
        public Timing $timing,
        public Instant $to,
        public float $tookMs,
        public string $unit,
        public ?UsualRange $usual,
    ) {
    }
}

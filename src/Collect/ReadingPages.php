<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Slot;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Exposition\Family;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Series\ScrapeValues;

/** Where the readings of one check from one place go, or of one job. What it brought before and does not bring now ends here. */
final class ReadingPages
{
    private const MOST_SERIES = 1_000;

    /** How many of those just read were more than it may ever bring; all others are there. */
    public int $leftOut = 0;

    /** @var array<string, Slot>|null */
    private ?array $slots = null;
    private readonly float $absent;

    public function __construct(private readonly Target $target, private readonly int $place, private readonly SeriesRegister $register)
    {
        $this->absent = ScrapeValues::absent();
    }

    /**
     * @param list<CheckReading> $readings
     *
     * @return list<ScrapeRow>
     */
    public function rows(array $readings, int $atMs): array
    {
        $samples = array_map(self::sample(...), $readings);
        $this->slots ??= $this->register->known($this->target->id(), place: $this->place);
        $new = array_filter($samples, fn(Sample $one): bool => !isset($this->slots[$this->identity($one)]));
        // What a check brings by itself is little; names that a server shows anew each time, or a station that is not what it says, bring more.
        $room = max(0, self::MOST_SERIES - count($this->slots));
        if ($new !== [] && $room > 0) {
            $this->slots = $this->register->register($this->target, array_slice(array_values($new), 0, $room), $atMs, place: $this->place);
        }
        $this->leftOut = max(0, count($new) - $room);
        $samples = array_filter($samples, fn(Sample $one): bool => isset($this->slots[$this->identity($one)]));
        $pages = [];
        foreach ($this->slots as $slot) {
            $pages[$slot->page][$slot->slot] = $this->absent;
        }
        foreach ($samples as $sample) {
            $slot = $this->slots[$this->identity($sample)];
            $pages[$slot->page][$slot->slot] = $sample->value;
        }
        $rows = [];
        foreach ($pages as $page => $values) {
            $last = max(array_keys($values));
            $whole = array_replace(array_fill(0, $last + 1, $this->absent), $values);
            $rows[] = new ScrapeRow($page, $atMs, ScrapeValues::pack(array_values($whole)));
        }

        return $rows;
    }

    private function identity(Sample $sample): string
    {
        return SeriesRegister::identity($sample, $this->place);
    }

    private static function sample(CheckReading $reading): Sample
    {
        $family = new Family($reading->metric);
        $family->type = $reading->type;
        $family->unit = $reading->unit;
        $family->help = $reading->help();

        return new Sample($reading->metric, $reading->labelSet(), $reading->value, null, $family);
    }
}

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
     *
     * @throws ScrapeRefused where there are too many of them
     */
    public function rows(array $readings, int $atMs): array
    {
        $samples = array_map(self::sample(...), $readings);
        $this->slots ??= $this->register->known($this->target->id(), place: $this->place);
        $new = array_filter($samples, fn(Sample $one): bool => !isset($this->slots[$this->identity($one)]));
        if ($new !== []) {
            // What a check is to bring is set by people; more comes of a station that is not what it says.
            if (count($this->slots) + count($new) > self::MOST_SERIES) {
                throw new ScrapeRefused('It would bring more than ' . self::MOST_SERIES . ' series from one place; nothing of it is taken');
            }
            $this->slots = $this->register->register($this->target, array_values($new), $atMs, place: $this->place);
        }
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

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Slot;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Exposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Layout;
use Olivine\Core\Exposition\Limits;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Series\ScrapeValues;

/**
 * Turns the texts of one target into scrape rows. While the text keeps its shape only its values are read, and
 * each page is a slice of them; a new shape is read whole, and its new series get slots.
 */
final class TargetReader
{
    private ?Layout $layout = null;
    private ?Form $form = null;
    /** @var array<string, Slot> */
    private array $slots = [];
    /** @var array<int, list<int|null>> page → for each slot the place of its value in the text */
    private array $places = [];
    /** @var array<int, bool> page → whether its places are one run without gaps */
    private array $runs = [];
    private bool $loaded = false;
    private readonly float $absent;

    public int $readings = 0;

    public function __construct(
        private readonly Target $target,
        private readonly SeriesRegister $register,
        private readonly Limits $limits = new Limits(),
    ) {
        $this->absent = ScrapeValues::absent();
    }

    /**
     * @return list<ScrapeRow> one for each page of the target
     *
     * @throws BadExposition
     * @throws ScrapeRefused
     */
    public function read(string $text, Form $form, int $atMs): array
    {
        $values = $this->form === $form ? $this->layout?->values($text) : null;
        if ($values === null) {
            $read = TextReader::read($text, $form, $this->limits);
            if ($read->samples === []) {
                throw new ScrapeRefused('The answer holds no readings; check that the URL is that of the metrics');
            }
            $this->learn($read, $atMs);
            $this->layout = Layout::of($text, $read);
            $this->form = $form;
            $values = [];
            foreach ($read->samples as $sample) {
                $values[] = $sample->value;
            }
        }
        $this->readings = count($values);

        return $this->rows($values, $atMs);
    }

    private function learn(Exposition $read, int $atMs): void
    {
        if (!$this->loaded) {
            $this->slots = $this->register->known($this->target->id());
            $this->loaded = true;
        }
        $new = [];
        $identities = [];
        foreach ($read->samples as $i => $sample) {
            if (SeriesRegister::keeps($sample)) {
                $identities[$i] = $identity = SeriesRegister::identity($sample);
                if (!isset($this->slots[$identity])) {
                    $new[] = $sample;
                }
            }
        }
        if (count($this->slots) + count($new) > $this->limits->series) {
            throw new ScrapeRefused(sprintf('%d new series would bring this target over its limit of %d; drop the label whose values keep changing at the source', count($new), $this->limits->series));
        }
        if ($new !== []) {
            $this->slots = $this->register->register($this->target, $new, $atMs);
        }
        $pages = [];
        foreach ($identities as $i => $identity) {
            $slot = $this->slots[$identity];
            $pages[$slot->page][$slot->slot] = $i;
        }
        // Pages of which this text brings nothing get a row of marks all the same: their series end here.
        foreach ($this->slots as $slot) {
            $pages[$slot->page][$slot->slot] ??= null;
        }
        $this->places = [];
        $this->runs = [];
        foreach ($pages as $page => $places) {
            ksort($places);
            $first = $places[0] ?? null;
            $this->places[$page] = array_values($places);
            $this->runs[$page] = $first !== null && $this->places[$page] === range($first, $first + count($places) - 1);
        }
    }

    /**
     * @param list<float|numeric-string> $values
     *
     * @return list<ScrapeRow>
     */
    private function rows(array $values, int $atMs): array
    {
        $rows = [];
        foreach ($this->places as $page => $places) {
            if ($this->runs[$page]) {
                $packed = ScrapeValues::pack(array_slice($values, (int) $places[0], count($places)));
            } else {
                $picked = [];
                foreach ($places as $place) {
                    $picked[] = $place === null ? $this->absent : $values[$place];
                }
                $packed = ScrapeValues::pack($picked);
            }
            $rows[] = new ScrapeRow($page, $atMs, $packed);
        }

        return $rows;
    }
}

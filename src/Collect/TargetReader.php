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
use Olivine\Core\Exposition\Sample;
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
    /** @var array<int, true> pages of which nothing came, and whose end is written */
    private array $ended = [];
    /** @var array<int, bool> page → whether its places are one run without gaps */
    private array $runs = [];
    private bool $loaded = false;
    private readonly float $absent;

    /** Readings of the scrape just read, and those among them that were too old, or too far ahead, to be taken. */
    public int $readings = 0;
    public int $tooOld = 0;
    /** @var list<ScrapeRow> those with times of their own that this target has not brought before, to be merged */
    public array $timed = [];
    /** Whether they are the first of which anything is remembered: some may have been there before. */
    public bool $isFirstTimed = false;
    /** What is not as it should be in a text that was taken all the same. */
    public string $notice = '';
    /** @var array<string, array<int, true>>|null series → times of its own that it brought, as far back as any are taken; null before the first */
    private ?array $brought = null;

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
        $this->timed = [];
        $this->tooOld = 0;
        $this->readings = 0;
        $this->notice = '';
        if ($values === null) {
            $read = TextReader::read($text, $form, $this->limits);
            if ($read->samples === []) {
                throw new ScrapeRefused('The answer holds no readings; check that the URL is that of the metrics');
            }
            $this->learn($read, $atMs);
            $this->notice =
                $read->fall === null ? '' : "Of a histogram the {$read->fall}; its server was asked in the middle of counting";
            $this->layout = Layout::of($text, $read);
            $this->form = $form;
            $values = [];
            $ownTimes = false;
            foreach ($read->samples as $sample) {
                $values[] = $sample->value;
                $ownTimes = $ownTimes || $sample->atMs !== null;
            }
            if ($ownTimes) {
                return $this->apart($read, $atMs);
            }
        }
        $this->readings = count($values);

        return $this->rows($values, $atMs);
    }

    /**
     * Nothing of it holds any more: each of its series ends.
     *
     * @return list<ScrapeRow>
     *
     * @throws ScrapeRefused
     */
    public function end(int $atMs): array
    {
        if ($this->layout !== null || !$this->loaded) {
            $this->layout = null;
            $this->learn(new Exposition(Form::OpenMetrics, [], []), $atMs);
        }

        return $this->rows([], $atMs);
    }

    /** @throws ScrapeRefused */
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
        if ($new !== []) {
            $this->limit($new, $atMs);
            $this->slots = $this->register->register($this->target, $new, $atMs);
        }
        $this->ended = [];
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
     * @param list<Sample> $new
     *
     * @throws ScrapeRefused
     */
    private function limit(array $new, int $atMs): void
    {
        $known = count($this->slots);
        if ($known + count($new) > $this->limits->knownSeries) {
            throw new ScrapeRefused(
                sprintf(
                    '%d new series would bring this target over the %s that it may ever bring; %s, or raise the limit in Setup',
                    count($new),
                    number_format($this->limits->knownSeries),
                    ExplodedLabel::remedy($new),
                ),
            );
        }
        if ($known === 0) {
            return;
        }
        $lately = $this->register->addedSince($this->target->id(), $atMs - 3_600_000);
        if ($lately < $known && $lately + count($new) > $this->limits->newSeriesAnHour) {
            throw new ScrapeRefused(
                sprintf(
                    '%d new series after %d in the last hour, more than the %s an hour that a target may bring; %s, or raise the limit in Setup',
                    count($new),
                    $lately,
                    number_format($this->limits->newSeriesAnHour),
                    ExplodedLabel::remedy($new),
                ),
            );
        }
    }

    /**
     * A text in which samples carry times of their own: each time gets rows of its own, in which nothing is said
     * of the other series. Without a time the time of the scrape holds.
     *
     * @return list<ScrapeRow>
     */
    private function apart(Exposition $read, int $atMs): array
    {
        $this->layout = null;
        $values = [];
        $this->isFirstTimed = $this->brought === null;
        $this->forgetBrought($atMs);
        foreach ($read->samples as $sample) {
            if (!SeriesRegister::keeps($sample)) {
                continue;
            }
            ++$this->readings;
            $at = $sample->atMs ?? $atMs;
            if ($at < $atMs - $this->limits->lateMs || $at > $atMs + $this->limits->earlyMs) {
                ++$this->tooOld;
                continue;
            }
            $identity = SeriesRegister::identity($sample);
            if ($sample->atMs !== null && isset($this->brought[$identity][$at])) {
                // Many texts say the same reading again until they have a newer one.
                continue;
            }
            $this->brought[$identity][$at] = true;
            $slot = $this->slots[$identity];
            $values[$slot->page][$at][$slot->slot] = $sample->value;
        }
        $silent = ScrapeValues::silent();
        foreach ($values as $page => $times) {
            foreach ($times as $at => $slots) {
                $row = array_replace(array_fill(0, max(array_keys($slots)) + 1, $silent), $slots);
                $this->timed[] = new ScrapeRow($page, $at, ScrapeValues::pack(array_values($row)));
            }
        }
        $this->readings -= $this->tooOld;

        return [];
    }

    private function forgetBrought(int $nowMs): void
    {
        $oldest = $nowMs - $this->limits->lateMs;
        $this->brought ??= [];
        foreach ($this->brought as $identity => $times) {
            foreach ($times as $at => $_) {
                if ($at >= $oldest) {
                    break;
                }
                unset($this->brought[$identity][$at]);
            }
            if ($this->brought[$identity] === []) {
                unset($this->brought[$identity]);
            }
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
            if (isset($this->ended[$page])) {
                continue;
            }
            if ($this->runs[$page]) {
                $packed = ScrapeValues::pack(array_slice($values, (int) $places[0], count($places)));
            } else {
                $picked = [];
                foreach ($places as $place) {
                    $picked[] = $place === null ? $this->absent : $values[$place];
                }
                $packed = ScrapeValues::pack($picked);
                if (str_replace(ScrapeValues::ABSENT, '', $packed) === '') {
                    // Said once, that all of a page has ended is enough.
                    $this->ended[$page] = true;
                }
            }
            $rows[] = new ScrapeRow($page, $atMs, $packed);
        }

        return $rows;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Check\CheckRun;
use Olivine\App\Store\ScrapeRow;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Exposition\Form;

/** What one time of asking leaves to be written. */
final class Taken
{
    private const LONGEST_MESSAGE = 1_000;
    private const LONGEST_NOTICE = 500;

    /** @var list<ScrapeRow> */
    public array $rows = [];
    /** @var list<ScrapeRow> with times of their own */
    public array $timed = [];
    /** Whether what carries a time of its own may have been brought before, by a text of which nothing is remembered. */
    public bool $isRepeat = false;
    public int $readings = 0;
    public ?Form $form = null;
    /** Of a check: what was asked, and what it comes to. */
    public ?CheckRun $run = null;
    public ?Judgement $judgement = null;
    public int $bytes = 0;
    public ?string $fault;
    private int $tooOld = 0;
    private string $notice = '';
    private Tick $tick;

    public function __construct(public readonly Asking $asking, public readonly int $atMs)
    {
        $this->fault = $asking->fault;
        $this->tick = $asking->fault === null ? Tick::Taken : Tick::Failed;
    }

    /** @param list<ScrapeRow> $rows */
    public function take(TargetReader $reader, array $rows): void
    {
        $this->rows = $rows;
        $this->timed = $reader->timed;
        $this->isRepeat = $reader->isFirstTimed;
        $this->readings = $reader->readings;
        $this->tooOld = $reader->tooOld;
        $this->notice = $reader->notice;
    }

    /**
     * What is known of itself, without an answer of anybody's.
     *
     * @param list<ScrapeRow> $rows
     */
    public function noted(array $rows, int $readings, string $notice, Tick $tick): void
    {
        [$this->rows, $this->readings, $this->notice, $this->tick] = [$rows, $readings, $notice, $tick];
    }

    /** @param list<ScrapeRow> $rows */
    public function judged(CheckRun $run, Judgement $judgement, array $rows): void
    {
        [$this->run, $this->judgement, $this->readings] = [$run, $judgement, count($judgement->readings)];
        // What comes after its time may come after rules had looked.
        [$this->rows, $this->timed] = $run->comesLater() ? [[], $rows] : [$rows, []];
        $this->fault = $judgement->verdict === Verdict::Unknown ? $judgement->words : null;
        $this->notice = $judgement->words;
        $this->tick = match ($judgement->verdict) {
            Verdict::Runs => Tick::Taken,
            Verdict::Partly => Tick::Refused,
            Verdict::Down, Verdict::Unknown => Tick::Failed,
        };
    }

    /** How the rail of its place shows it: how long it was waited for an answer, not how late it was, nor how long the asking went on. */
    public function tick(): string
    {
        $waited = array_find($this->judgement->readings ?? [], static fn(CheckReading $one): bool => $one->metric === 'check_duration_seconds');

        return $this->tick->at($this->atMs, (int) (1000 * ($waited->value ?? $this->asking->seconds())));
    }

    /** Nothing of it is kept. */
    public function refuse(string $reason): void
    {
        $this->rows = $this->timed = [];
        $this->readings = $this->tooOld = 0;
        $this->notice = '';
        $this->fault = $reason;
        $this->tick = Tick::Refused;
    }

    public function message(): string
    {
        return mb_substr(mb_scrub($this->fault ?? ''), 0, self::LONGEST_MESSAGE);
    }

    /** @return list<int|float|string|null> */
    public function state(): array
    {
        $isTaken = $this->fault === null;

        return [
            $this->asking->target->id(),
            $this->atMs,
            (int) $isTaken,
            $isTaken ? $this->atMs : null,
            $this->form->value ?? '',
            $this->asking->seconds(),
            $this->bytes,
            $this->readings,
            $this->message(),
            $this->tooOld,
            mb_substr($this->notice, 0, self::LONGEST_NOTICE),
            $this->tick->at($this->atMs, $this->asking->afterMs()),
        ];
    }
}

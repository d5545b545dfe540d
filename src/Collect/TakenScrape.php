<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Store\ScrapeRow;

/** What one scrape leaves to be written. */
final class TakenScrape
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
    public ?string $fault;
    private int $tooOld = 0;
    private string $notice = '';
    private Tick $tick;

    public function __construct(public readonly Scrape $scrape, public readonly int $atMs)
    {
        $this->fault = $scrape->fault;
        $this->tick = $scrape->fault === null ? Tick::Taken : Tick::Failed;
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
            $this->scrape->target->id(),
            $this->atMs,
            (int) $isTaken,
            $isTaken ? $this->atMs : null,
            $this->scrape->form->value,
            $this->scrape->seconds(),
            strlen($this->scrape->body),
            $this->readings,
            $this->message(),
            $this->tooOld,
            mb_substr($this->notice, 0, self::LONGEST_NOTICE),
            $this->tick->at($this->atMs, $this->scrape->afterMs()),
        ];
    }
}

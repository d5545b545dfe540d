<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Store\SeriesRegister;
use Olivine\Core\Exposition\Limits;

/** Targets that answer with the text of their metrics. */
final class ScrapeSource implements Source
{
    private readonly Scraper $scraper;
    private readonly Machines $machines;
    /** @var array<int, OwnReadings> */
    private array $own = [];

    public function __construct(
        private readonly SeriesRegister $register,
        private readonly TargetReaders $readers,
        Credentials $credentials,
        Reach $reach,
    ) {
        $this->machines = new Machines();
        $this->scraper = new Scraper($credentials, $reach, new Limits());
    }

    public function asks(Target $target): bool
    {
        return $target->kind === SourceKind::Scrape;
    }

    public function room(): int
    {
        return $this->scraper->room();
    }

    public function inFlight(): int
    {
        return $this->scraper->inFlight();
    }

    public function start(Target $target, int $dueMs): void
    {
        $this->scraper->start($target, $dueMs);
    }

    public function advance(float $seconds): array
    {
        $ended = $this->scraper->advance($seconds);
        $this->machines->advance();
        array_map($this->machines->follow(...), $ended);

        return $ended;
    }

    public function read(Asking $asking, Taken $taken): void
    {
        if (!$asking instanceof Scrape) {
            throw new \LogicException('This was asked otherwise');
        }
        [$taken->form, $taken->bytes] = [$asking->form, strlen($asking->body)];
        if ($asking->fault !== null) {
            return;
        }
        $reader = $this->readers->of($asking->target);
        $taken->take($reader, $reader->read($asking->body, $asking->form, $taken->atMs));
    }

    public function note(Asking $asking, Taken $taken): void
    {
        $target = $asking->target;
        $own = $this->own[$target->id()] ??= OwnReadings::of($target, $this->register, $taken->atMs);
        $machine = $asking instanceof Scrape ? $asking->machineAnswers : null;
        if ($machine !== null) {
            $own = $this->own[$target->id()] = $own->withMachine($target, $this->register, $taken->atMs);
        }
        $taken->rows[] = $own->row($taken->atMs, $taken->fault === null, $asking->seconds(), $taken->readings, $taken->bytes, $machine);
    }

    public function keep(array $taken): void
    {
    }

    public function isAskedHere(Target $target): bool
    {
        return true;
    }

    public function renew(): void
    {
        $this->scraper->limits = $this->readers->renew();
    }

    public function forget(int $targetId): void
    {
        $this->readers->forget($targetId);
        unset($this->own[$targetId]);
    }

    public function abandon(): void
    {
        $this->scraper->abandon();
        $this->machines->abandon();
        $this->readers->forgetAll();
        $this->own = [];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Asking;
use Olivine\App\Collect\Entity\Place;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\ReadingPages;
use Olivine\App\Collect\Source;
use Olivine\App\Collect\Station\Arrivals;
use Olivine\App\Collect\Taken;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\SetAside;
use Olivine\App\Store\SeriesRegister;
use Olivine\Core\Time\Instant;

/**
 * Checks, asked from here, and what stations brought of them: judged by the core, held where we are the ones who are cut off, their
 * readings on pages of the place that they were asked from.
 */
final class CheckSource implements Source
{
    /** @var array<string, ReadingPages> target and place → where its readings go */
    private array $pages = [];
    /** @var list<CheckRun> what stations brought */
    private array $arrived = [];

    public function __construct(
        private readonly SeriesRegister $register,
        private readonly CheckStates $states,
        private readonly CheckAskers $askers,
        private readonly References $references,
        private readonly Arrivals $arrivals,
        private readonly SetAside $aside,
    ) {
    }

    public function asks(Target $target): bool
    {
        return $target->kind->isCheck();
    }

    public function isAskedHere(Target $target): bool
    {
        return in_array(Place::CENTRE, $target->places, true);
    }

    public function room(): int
    {
        return $this->askers->room();
    }

    public function inFlight(): int
    {
        return $this->askers->inFlight() + count($this->arrived) + (int) $this->references->isAnyWaiting();
    }

    public function start(Target $target, int $dueMs): void
    {
        $this->askers->begin($target, $dueMs, Place::CENTRE);
    }

    /** Asks one check and waits for it. */
    public function once(Target $target, float $seconds): CheckRun
    {
        $this->askers->begin($target, null, Place::CENTRE);
        $until = microtime(true) + $seconds;
        do {
            $ended = $this->askers->advance(0.1)[0] ?? null;
            if ($ended !== null) {
                return $ended;
            }
        } while (microtime(true) < $until);
        $this->abandon();

        return new FailedRun($target, null, Place::CENTRE, 'It took longer than anybody waits here');
    }

    /** @param array<int, string> $names the checks asked from here whose targets are always up */
    public function referencesAre(array $names): void
    {
        $this->references->are($names);
    }

    /** @return list<int> checks that are to be asked now, since something waits for them */
    public function wanted(): array
    {
        return $this->references->wanted();
    }

    /** @param list<CheckRun> $runs what stations brought */
    public function arrived(array $runs): void
    {
        $this->arrived = [...$this->arrived, ...$runs];
    }

    public function isAnyAtHand(): bool
    {
        return $this->arrived !== [];
    }

    /** @return list<CheckRun> those that ended */
    public function advance(float $seconds): array
    {
        [$arrived, $this->arrived] = [$this->arrived, []];
        if ($arrived === [] && $this->askers->inFlight() === 0) {
            // What waits for its references waits for time alone.
            usleep((int) ($seconds * 1e6));
        }

        return [...$arrived, ...$this->references->told($this->askers->advance($arrived === [] ? $seconds : 0.0))];
    }

    public function read(Asking $asking, Taken $taken): void
    {
        if (!$asking instanceof CheckRun) {
            throw new \LogicException('This was asked otherwise');
        }
        $judgement = $asking->verdict();
        $target = $asking->target;
        $pages = $this->pages["{$target->id()} {$asking->place}"] ??= new ReadingPages($target, $asking->place, $this->register);
        $taken->judged($asking, $judgement, $pages->rows($judgement->readings, $taken->atMs));
        $subject = "readings of {$target->name} from place {$asking->place}";
        if ($pages->leftOut > 0) {
            $reason = "{$pages->leftOut} are left out, since it has brought as many series as it may; its other readings are taken";
            $this->aside->put(PartName::Collector->value, $subject, $reason, Instant::ofMs($taken->atMs));
        } else {
            $this->aside->over(PartName::Collector->value, $subject);
        }
    }

    public function note(Asking $asking, Taken $taken): void
    {
        // What is noted of a check are its readings.
    }

    public function keep(array $taken): void
    {
        $this->states->keep($taken);
        $arrivals = array_map(static fn(Taken $one): ?int => $one->run?->arrival, $taken);
        $this->arrivals->areTaken(array_values(array_filter($arrivals, is_int(...))));
    }

    public function renew(): void
    {
    }

    public function forget(int $targetId): void
    {
        $this->pages = array_filter($this->pages, static fn(string $key): bool => !str_starts_with($key, "{$targetId} "), ARRAY_FILTER_USE_KEY);
    }

    public function abandon(): void
    {
        $this->askers->abandon();
        $this->references->abandon();
        $this->pages = $this->arrived = [];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Check\CheckSource;
use Olivine\App\Collect\Check\CheckWishes;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Job\JobSource;
use Olivine\App\Collect\Pushed\PushedSource;
use Olivine\App\Collect\Station\Arrivals;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\PartWork;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SetAside;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\Standstills;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Time\Instant;
use Psr\Log\LoggerInterface;

/**
 * Scrapes every target at its interval and commits what they bring in small batches. A reading's time is the
 * instant its answer was whole; with each batch the collector writes up to which instant everything of its slots is
 * committed, so the evaluator never looks at an instant that may still gain readings.
 */
final class Collector implements PartWork
{
    private const PART = 'collector';
    private const RELOAD_MS = 2_000;
    private const SETTLE_EVERY_MS = 200;
    private const WISHES_MS = 500;
    private const ARRIVALS_MS = 250;
    private const LATE_KEPT = 4_000;
    private const LOOK_SECONDS = 0.05;

    /** @var non-empty-list<Source> */
    private readonly array $sources;
    private HeldSlots $slots;
    private Schedule $schedule;
    /** @var array<int, Target> asked from here */
    private array $targets = [];
    /** @var array<int, Target> of the slots it holds, those that are asked from elsewhere too */
    private array $known = [];
    /** @var array<int, string> what each target was when its reader was made */
    private array $shapes = [];
    /** @var array<int, true> */
    private array $busy = [];
    private int $reloadAtMs = 0;
    private int $settleAtMs = 0;
    private int $wishesAtMs = 0;
    private int $arrivalsAtMs = 0;
    private float $readings = 0.0;
    private float $scrapes = 0.0;
    private float $failed = 0.0;
    private float $missed = 0.0;
    private int $started = 0;
    /** @var array<int, int> how many milliseconds after its time each of the last scrapes began */
    private array $late = [];
    private string $settings = '';

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Database $database,
        private readonly ScrapeWriter $writer,
        private readonly TargetStatuses $statuses,
        private readonly Punctualities $punctualities,
        private readonly Standstills $standstills,
        private readonly CheckWishes $wishes,
        private readonly SetAside $aside,
        private readonly LoggerInterface $logger,
        ScrapeSource $scrapes,
        private readonly CheckSource $checks,
        JobSource $jobs,
        PushedSource $pushed,
        private readonly Arrivals $arrivals,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->sources = [$scrapes, $checks, $jobs, $pushed];
        $this->schedule = new Schedule();
        $this->slots = HeldSlots::none(PartName::Collector);
    }

    public function round(): int
    {
        $now = $this->clock->now()->ms;
        if ($now >= $this->reloadAtMs) {
            $this->reload();
            $this->reloadAtMs = $now + self::RELOAD_MS;
        }
        if ($now >= $this->wishesAtMs) {
            $this->schedule->now($this->wishes->take(array_keys($this->targets)), $now);
            $this->wishesAtMs = $now + self::WISHES_MS;
        }
        $this->schedule->now(array_filter($this->checks->wanted(), fn(int $id): bool => !isset($this->busy[$id])), $now);
        if ($now >= $this->arrivalsAtMs && !$this->checks->isAnyAtHand()) {
            $arrived = $this->arrivals->next($this->slots->numbers(), $this->known);
            $this->checks->arrived($arrived);
            $this->arrivalsAtMs = $arrived === [] ? $now + self::ARRIVALS_MS : 0;
        }
        foreach ($this->schedule->due($now, $this->room()) as $id => $dueMs) {
            if (!isset($this->busy[$id]) && isset($this->targets[$id])) {
                $this->busy[$id] = true;
                $this->late[$this->started++ % self::LATE_KEPT] = $this->clock->now()->ms - $dueMs;
                $this->source($this->targets[$id])->start($this->targets[$id], $dueMs);
            } else {
                ++$this->missed;
            }
        }
        $ended = $this->advance();
        if ($ended !== []) {
            $this->take($ended);

            return 0;
        }
        $now = $this->clock->now()->ms;
        if ($now >= $this->settleAtMs) {
            $this->settleNow();
        }

        return $this->inFlight() > 0 ? 0 : max(1, min(50, ($this->schedule->nextMs() ?? $now + 50) - $now));
    }

    /** What was being asked may be another's business now, and what is remembered of the targets is old. */
    public function hold(HeldSlots $slots): void
    {
        $this->slots = $slots;
        $this->punctualities->hold($slots);
        array_map(static fn(Source $source) => $source->abandon(), $this->sources);
        $this->schedule = new Schedule();
        $this->targets = $this->known = $this->shapes = $this->busy = [];
        $this->settings = '';
        $this->reloadAtMs = 0;
    }

    public function figures(): array
    {
        return [
            'olivine_scrapes_total' => $this->scrapes,
            'olivine_scrapes_failed_total' => $this->failed,
            'olivine_readings_total' => $this->readings,
            'olivine_scrapes_missed_total' => $this->missed,
            'olivine_scrape_lateness_seconds' => $this->lateness(),
            'olivine_targets' => (float) count($this->targets),
        ];
    }

    /** The lateness that all but a hundredth of the last scrapes stayed under. */
    private function lateness(): float
    {
        return $this->late === [] ? 0.0 : Spread::quantile(0.99, array_values(array_map(floatval(...), $this->late))) / 1000;
    }

    private function reload(): void
    {
        // Thousands of targets are not read anew because one second has passed.
        $settings = Scalar::text(
            $this->database->connection->fetchOne(
                "SELECT CONCAT_WS(' ', COUNT(*), SUM(CRC32(CONCAT_WS(' ', t.id, t.name, t.url, t.interval_seconds, t.timeout_seconds,
             t.labels, t.inherits, IFNULL(t.credential, '-'), t.credential_origins, t.paused, IFNULL(t.removed_at, '-'),
             IFNULL(t.group_id, '-'), IFNULL(t.asks, '-'), IFNULL(t.secrets, '-'), t.places,
             IFNULL(t.slow_ms, '-'), t.is_reference))),
                    (SELECT SUM(CRC32(CONCAT_WS(' ', g.name, g.credential_origins, IFNULL(g.credential, '-')))) FROM target_group g),
                    (SELECT value FROM setting WHERE name = 'target_limits')) FROM target t",
            ),
        );
        if ($settings === $this->settings) {
            return;
        }
        $this->entities->clear();
        array_map(static fn(Source $source) => $source->renew(), $this->sources);
        $targets = $known = $places = $references = [];
        foreach ($this->entities->getRepository(Target::class)->findBy(['paused' => false, 'removedAt' => null]) as $target) {
            $id = $target->id();
            if (!$this->slots->has($id)) {
                continue;
            }
            $known[$id] = $target;
            if ($this->source($target)->isAskedHere($target)) {
                $targets[$id] = $target;
                $places[$id] = [$target->name, $target->intervalSeconds * 1000];
            }
            if ($target->isReference && isset($targets[$id])) {
                $references[$id] = $target->name;
            }
            $shape = json_encode([$target->name, $target->url, $target->labels, $target->asks], JSON_THROW_ON_ERROR);
            if (($this->shapes[$id] ?? null) !== $shape) {
                $this->shapes[$id] = $shape;
                $this->source($target)->forget($id);
            }
        }
        [$this->targets, $this->known] = [$targets, $known];
        $this->checks->referencesAre($references);
        $this->schedule->keep($places, $this->clock->now()->ms);
        // Only now: where the database went away in between, it is read anew.
        $this->settings = $settings;
    }

    /** @return int how many more may be asked at once */
    private function room(): int
    {
        return min(array_map(static fn(Source $source): int => $source->room(), $this->sources));
    }

    private function inFlight(): int
    {
        return array_sum(array_map(static fn(Source $source): int => $source->inFlight(), $this->sources));
    }

    private function source(Target $target): Source
    {
        return array_find($this->sources, static fn(Source $source): bool => $source->asks($target))
            ?? throw new \LogicException("Nobody asks target {$target->name}");
    }

    /** @return list<Asking> those that ended */
    private function advance(): array
    {
        $ended = [];
        $busy = array_filter($this->sources, static fn(Source $source): bool => $source->inFlight() > 0);
        foreach ($busy as $source) {
            $ended = [...$ended, ...$source->advance(self::LOOK_SECONDS / count($busy))];
        }

        return $ended;
    }

    /** @param list<Asking> $ended */
    private function take(array $ended): void
    {
        // Whatever becomes of these answers, their targets are asked again at their next time.
        foreach ($ended as $asking) {
            if ($asking->isFromHere()) {
                unset($this->busy[$asking->target->id()]);
            }
        }
        $taken = array_map($this->read(...), $ended);
        try {
            $this->commit($taken);
        } catch (\Throwable $error) {
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            // One of them cannot be written: each by itself then, and that one is put aside. Rules may look on only when all are there.
            $this->database->recover();
            array_map($this->commitAlone(...), $taken);
            $this->settleNow();
        }
        foreach ($taken as $one) {
            if ($one->fault === null) {
                $this->aside->over(self::PART, self::subject($one->asking->target));
            }
            ++$this->scrapes;
            $this->failed += $one->fault === null ? 0 : 1;
            $this->readings += $one->readings;
        }
    }

    /** What an answer brings, or why nothing of it is taken. */
    private function read(Asking $asking): Taken
    {
        $source = $this->source($asking->target);
        // It counts at the instant at which it was whole.
        $taken = new Taken($asking, (int) floor($asking->endedAt * 1000));
        try {
            $source->read($asking, $taken);
        } catch (BadExposition $error) {
            $taken->refuse($error->place());
        } catch (ScrapeRefused $error) {
            $taken->refuse($error->getMessage());
        } catch (\Throwable $error) {
            $this->passOrThrow($error);
            $source->forget($asking->target->id());
            $taken->refuse($this->putAside($asking->target, $error, $taken->atMs));
        }
        try {
            $source->note($asking, $taken);
        } catch (\Throwable $error) {
            $this->passOrThrow($error);
            $this->putAside($asking->target, $error, $taken->atMs);
        }

        return $taken;
    }

    private function passOrThrow(\Throwable $error): void
    {
        if (Database::mayPass($error) || $error instanceof LeaseLost) {
            throw $error;
        }
        $this->database->recover();
    }

    private function putAside(Target $target, \Throwable $error, int $atMs): string
    {
        $this->logger->error('The answer of target {target} was set aside: {exception}', [
            'target' => $target->name,
            'exception' => $error,
        ]);
        $this->aside->put(self::PART, self::subject($target), $error->getMessage(), Instant::ofMs($atMs));

        return 'Olivine cannot take this answer; what it could not do stands under Set aside on Watch';
    }

    private function commitAlone(Taken $taken): void
    {
        $target = $taken->asking->target;
        try {
            $this->commit([$taken], isAll: false);
        } catch (\Throwable $error) {
            $this->passOrThrow($error);
            $this->source($target)->forget($target->id());
            $taken->refuse($this->putAside($target, $error, $taken->atMs));
            $this->commitRefusal($taken);
        }
    }

    /** Not even that it was refused can be written: the target counts as silent, and the others go on. */
    private function commitRefusal(Taken $taken): void
    {
        try {
            $this->commit([$taken], isAll: false);
        } catch (\Throwable $error) {
            $this->passOrThrow($error);
            $this->putAside($taken->asking->target, $error, $taken->atMs);
        }
    }

    private static function subject(Target $target): string
    {
        return "target {$target->name}";
    }

    /**
     * @param list<Taken> $taken
     * @param bool        $isAll whether nothing that arrived before is still to be written
     */
    private function commit(array $taken, bool $isAll = true): void
    {
        $this->database->transaction(function () use ($taken, $isAll): void {
            $this->writer->insert(array_merge(...array_column($taken, 'rows')));
            $now = $this->clock->now()->ms;
            foreach ($taken as $one) {
                if ($one->timed !== []) {
                    $this->punctualities->merge($one->asking->target->id(), $one->timed, $one->isRepeat, $now);
                }
            }
            $this->statuses->keep($taken);
            foreach ($this->sources as $source) {
                $source->keep(array_values(array_filter($taken, static fn(Taken $one): bool => $source->asks($one->asking->target))));
            }
            if ($isAll) {
                $this->settle($now);
            }
        });
        $this->punctualities->keepSettled();
    }

    private function settleNow(): void
    {
        $this->database->transaction(fn() => $this->settle($this->clock->now()->ms));
        $this->punctualities->keepSettled();
    }

    /** An answer gets its time when it is taken over, in turn with this; so nothing to come is older than now. */
    private function settle(int $nowMs): void
    {
        $this->standstills->note($this->slots->numbers(), $nowMs);
        $this->database->upsert(
            'settled',
            ['part', 'slot', 'through_at'],
            array_map(static fn(int $slot): array => [self::PART, $slot, $nowMs], $this->slots->numbers()),
        );
        $this->punctualities->settle($nowMs);
        $this->settleAtMs = $nowMs + self::SETTLE_EVERY_MS;
    }
}

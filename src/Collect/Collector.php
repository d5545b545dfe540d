<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\PartWork;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SetAside;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Standstills;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Limits;
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
    private const LATE_KEPT = 4_000;

    private readonly Scraper $scraper;
    private HeldSlots $slots;
    private Schedule $schedule;
    /** @var array<int, Target> */
    private array $targets = [];
    /** @var array<int, string> what each target was when its reader was made */
    private array $shapes = [];
    /** @var array<int, TargetReader> */
    private array $readers = [];
    /** @var array<int, OwnReadings> */
    private array $own = [];
    /** @var array<int, true> */
    private array $busy = [];
    private int $reloadAtMs = 0;
    private int $settleAtMs = 0;
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
        private readonly SeriesRegister $register,
        private readonly ScrapeWriter $writer,
        private readonly TargetLimits $limits,
        private readonly TargetStatuses $statuses,
        private readonly Punctualities $punctualities,
        private readonly Standstills $standstills,
        private readonly SetAside $aside,
        private readonly LoggerInterface $logger,
        Credentials $credentials,
        Reach $reach,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->scraper = new Scraper($credentials, $reach, new Limits());
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
        foreach ($this->schedule->due($now, $this->scraper->room()) as $id => $dueMs) {
            if (!isset($this->busy[$id]) && isset($this->targets[$id])) {
                $this->busy[$id] = true;
                $this->late[$this->started++ % self::LATE_KEPT] = $this->clock->now()->ms - $dueMs;
                $this->scraper->start($this->targets[$id], $dueMs);
            } else {
                ++$this->missed;
            }
        }
        if ($this->scraper->inFlight() > 0) {
            $ended = $this->scraper->advance(0.05);
            if ($ended !== []) {
                $this->take($ended);

                return 0;
            }
        }
        $now = $this->clock->now()->ms;
        if ($now >= $this->settleAtMs) {
            $this->settleNow();
        }

        return $this->scraper->inFlight() > 0 ? 0 : max(1, min(50, ($this->schedule->nextMs() ?? $now + 50) - $now));
    }

    /** What was being asked may be another's business now, and what is remembered of the targets is old. */
    public function hold(HeldSlots $slots): void
    {
        $this->slots = $slots;
        $this->punctualities->hold($slots);
        $this->scraper->abandon();
        $this->schedule = new Schedule();
        $this->targets = $this->shapes = $this->readers = $this->own = $this->busy = [];
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
             IFNULL(t.group_id, '-')))),
                    (SELECT SUM(CRC32(CONCAT_WS(' ', g.name, g.credential_origins, IFNULL(g.credential, '-')))) FROM target_group g),
                    (SELECT value FROM setting WHERE name = 'target_limits')) FROM target t",
            ),
        );
        if ($settings === $this->settings) {
            return;
        }
        $this->entities->clear();
        $this->scraper->limits = $this->limits->limits();
        $targets = [];
        $places = [];
        foreach ($this->entities->getRepository(Target::class)->findBy(['paused' => false, 'removedAt' => null]) as $target) {
            $id = $target->id();
            if (!$this->slots->has($id)) {
                continue;
            }
            $targets[$id] = $target;
            $places[$id] = [$target->name, $target->intervalSeconds * 1000];
            $shape = json_encode([$target->name, $target->url, $target->labels, $this->scraper->limits], JSON_THROW_ON_ERROR);
            if (($this->shapes[$id] ?? null) !== $shape) {
                $this->shapes[$id] = $shape;
                unset($this->readers[$id], $this->own[$id]);
            }
        }
        $this->targets = $targets;
        $this->schedule->keep($places, $this->clock->now()->ms);
        // Only now: where the database went away in between, it is read anew.
        $this->settings = $settings;
    }

    /** @param list<Scrape> $ended */
    private function take(array $ended): void
    {
        // Whatever becomes of these answers, their targets are asked again at their next time.
        foreach ($ended as $scrape) {
            unset($this->busy[$scrape->target->id()]);
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
                $this->aside->over(self::PART, self::subject($one->scrape->target));
            }
            ++$this->scrapes;
            $this->failed += $one->fault === null ? 0 : 1;
            $this->readings += $one->readings;
        }
    }

    /** What an answer brings, or why nothing of it is taken. */
    private function read(Scrape $scrape): TakenScrape
    {
        $target = $scrape->target;
        $id = $target->id();
        $taken = new TakenScrape($scrape, (int) floor($scrape->endedAt * 1000));
        if ($scrape->fault === null) {
            try {
                $reader = $this->readers[$id] ??= new TargetReader($target, $this->register, $this->scraper->limits);
                $taken->take($reader, $reader->read($scrape->body, $scrape->form, $taken->atMs));
            } catch (BadExposition $error) {
                $taken->refuse($error->place());
            } catch (ScrapeRefused $error) {
                $taken->refuse($error->getMessage());
            } catch (\Throwable $error) {
                $this->passOrThrow($error);
                unset($this->readers[$id]);
                $taken->refuse($this->putAside($target, $error, $taken->atMs));
            }
        }
        try {
            $own = $this->own[$id] ??= OwnReadings::of($target, $this->register, $taken->atMs);
            $taken->rows[] = $own->row(
                $taken->atMs,
                $taken->fault === null,
                $scrape->seconds(),
                $taken->readings,
                strlen($scrape->body),
            );
        } catch (\Throwable $error) {
            $this->passOrThrow($error);
            $this->putAside($target, $error, $taken->atMs);
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

    private function commitAlone(TakenScrape $taken): void
    {
        $target = $taken->scrape->target;
        try {
            $this->commit([$taken], isAll: false);
        } catch (\Throwable $error) {
            $this->passOrThrow($error);
            unset($this->readers[$target->id()], $this->own[$target->id()]);
            $taken->refuse($this->putAside($target, $error, $taken->atMs));
            $this->commitRefusal($taken);
        }
    }

    /** Not even that it was refused can be written: the target counts as silent, and the others go on. */
    private function commitRefusal(TakenScrape $taken): void
    {
        try {
            $this->commit([$taken], isAll: false);
        } catch (\Throwable $error) {
            $this->passOrThrow($error);
            $this->putAside($taken->scrape->target, $error, $taken->atMs);
        }
    }

    private static function subject(Target $target): string
    {
        return "target {$target->name}";
    }

    /**
     * @param list<TakenScrape> $taken
     * @param bool              $isAll whether nothing that arrived before is still to be written
     */
    private function commit(array $taken, bool $isAll = true): void
    {
        $this->database->transaction(function () use ($taken, $isAll): void {
            $this->writer->insert(array_merge(...array_column($taken, 'rows')));
            $now = $this->clock->now()->ms;
            foreach ($taken as $one) {
                if ($one->timed !== []) {
                    $this->punctualities->merge($one->scrape->target->id(), $one->timed, $one->isRepeat, $now);
                }
            }
            $this->statuses->keep($taken);
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

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Chore;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\PartWork;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SetAside;
use Olivine\App\Platform\WorkedOut;
use Olivine\Core\Time\Instant;
use Symfony\Component\DependencyInjection\Attribute\AutowireIterator;

/** Seals old readings into blocks, lets go of what is past its time, and works out what is slow to answer. */
final class Keeper implements PartWork
{
    private const TABLES_OF_TARGETS = [
        'series',
        'page',
        'target_status',
        'scrape_fault',
        'target_punctuality',
        'target_rest',
        'check_state',
        'check_wish',
        'evidence',
    ];
    /** An answer that arrives twice does so within a few days. */
    private const ANSWERS_KEPT_MS = 7 * 86_400_000;
    private const FAULTS_KEPT_MS = 7 * 86_400_000;
    private const TIDY_EVERY_MS = 60_000;
    /** Replays reach no further back. */
    private const LATE_KEPT_MS = 15 * 86_400_000;

    private int $sealed = 0;
    private int $dropped = 0;
    private int $tidyAtMs = 0;
    /** @var array<string, int> chore → when it is to be done next */
    private array $choreAtMs = [];

    /** @param iterable<Chore> $chores */
    public function __construct(
        private readonly Database $database,
        private readonly Sealer $sealer,
        private readonly Partitions $partitions,
        private readonly LetGo $letGo,
        private readonly DayCloser $days,
        private readonly WorkedOut $workedOut,
        private readonly LateReadings $late,
        private readonly SetAside $aside,
        private readonly Retention $retention,
        private readonly Standstills $standstills,
        #[AutowireIterator(Chore::class)]
        private readonly iterable $chores,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    /** All that it remembers is when it does what next. */
    public function hold(HeldSlots $slots): void
    {
        $this->tidyAtMs = 0;
        $this->choreAtMs = [];
    }

    public function round(): int
    {
        $now = $this->clock->now()->ms;
        if ($now >= $this->tidyAtMs) {
            $this->tidyAtMs = $now + self::TIDY_EVERY_MS;
            $this->tidy($now);
        }
        $more = false;
        $this->step('sealing readings into blocks', function () use ($now, &$more): void {
            $done = $this->sealer->round($now);
            $this->sealed += $done;
            $more = $done > 0;
        });
        if (!$more) {
            $this->step('settling a day that is over', function () use ($now, &$more): void {
                $more = $this->days->round($now);
            });
        }
        $this->step('working out what is slow to answer', fn() => $this->workedOut->renewDue(Instant::ofMs($now)));
        $this->doChores($now);

        return $more ? 50 : 5_000;
    }

    public function figures(): array
    {
        return [
            'olivine_sealed_spans_total' => (float) $this->sealed,
            'olivine_dropped_partitions_total' => (float) $this->dropped,
        ];
    }

    private function doChores(int $nowMs): void
    {
        foreach ($this->chores as $chore) {
            if ($nowMs >= ($this->choreAtMs[$chore->name()] ?? 0)) {
                $this->choreAtMs[$chore->name()] = $nowMs + $chore->everyMs();
                $this->step($chore->name(), fn() => $chore->do(Instant::ofMs($nowMs)));
            }
        }
    }

    /** One kind of work that fails is set aside, shown and counted; the others go on. */
    private function step(string $what, callable $do): void
    {
        $this->aside->unless('keeper', $what, $do);
    }

    private function tidy(int $nowMs): void
    {
        $connection = $this->database->connection;
        $this->step('forgetting what is past its time', function () use ($connection, $nowMs): void {
            $connection->executeStatement('DELETE FROM scrape_fault WHERE at < ?', [$nowMs - self::FAULTS_KEPT_MS]);
            $connection->executeStatement('DELETE FROM act_token WHERE ends_at < ?', [$nowMs]);
            $connection->executeStatement('DELETE FROM answer_code WHERE ends_at < ?', [$nowMs]);
            $connection->executeStatement('DELETE FROM answer_given WHERE at < ?', [$nowMs - self::ANSWERS_KEPT_MS]);
            $this->aside->forgetOld(Instant::ofMs($nowMs));
            $this->late->forgetBefore($nowMs - self::LATE_KEPT_MS);
            $this->standstills->forgetBefore($this->retention->letGoBefore(RetentionTier::Readings));
        });
        foreach ($connection->fetchFirstColumn('SELECT id FROM target WHERE removed_at < ?', [$nowMs - Span::DAY_MS]) as $id) {
            $this->step(
                'forgetting the removed target ' . Scalar::text($id),
                fn() => $this->forgetTarget($connection, Scalar::int($id)),
            );
        }
        // The days to come need their partitions before they come.
        $this->step(
            'making room for the days to come',
            fn() => $this->partitions->cover($nowMs - Span::DAY_MS, $nowMs + 2 * Span::DAY_MS),
        );
        $this->step('letting go of what is past its time', function () use ($nowMs): void {
            $gone = $this->letGo->round($nowMs);
            $this->dropped += $gone['partitions'];
            $this->tidyAtMs = $gone['isDone'] ? $this->tidyAtMs : $nowMs;
        });
    }

    /** A removal can be taken back for a day; then the target goes, and its blocks with their partitions. */
    private function forgetTarget(Connection $connection, int $id): void
    {
        $connection->executeStatement('DELETE r FROM scrape_row r JOIN page p ON p.id = r.page WHERE p.target_id = ?', [$id]);
        foreach (self::TABLES_OF_TARGETS as $table) {
            $connection->executeStatement("DELETE FROM {$table} WHERE target_id = ?", [$id]);
        }
        $connection->executeStatement('DELETE FROM target WHERE id = ?', [$id]);
    }
}

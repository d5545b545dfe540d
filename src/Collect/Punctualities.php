<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Scalar;
use Olivine\App\Rule\SettledReadings;
use Olivine\App\Store\LateReadings;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\Core\Series\Punctuality;

/**
 * How late each target is used to bring readings that carry times of their own. Kept with the readings, in their
 * transaction; what is remembered of it changes only once that is committed.
 */
final class Punctualities
{
    private const COLUMNS = ['target_id', 'through_at', 'hour_at', 'worst_ms', 'before_ms'];
    /** @var array<int, Punctuality>|null by target, as committed */
    private ?array $kept = null;
    /** @var array<int, Punctuality> as they are when this transaction is committed */
    private array $next = [];
    private HeldSlots $slots;

    public function __construct(
        private readonly Database $database,
        private readonly ScrapeWriter $writer,
        private readonly LateReadings $late,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->slots = HeldSlots::none(PartName::Collector);
    }

    /** Only of the targets in these slots anything is kept; another collector may have had some of them until now. */
    public function hold(HeldSlots $slots): void
    {
        $this->slots = $slots;
        $this->kept = null;
        $this->next = [];
    }

    /**
     * @param list<ScrapeRow> $rows     readings of a target with times of their own
     * @param bool            $isRepeat whether some of them may have been there before: then nothing is learned of them
     */
    public function merge(int $targetId, array $rows, bool $isRepeat, int $nowMs): void
    {
        $news = $this->writer->merge($rows);
        $before = $this->kept()[$targetId] ?? new Punctuality($nowMs - SettledReadings::COLLECTOR_GONE_MS);
        $after = $before;
        $late = [];
        foreach ($news as $row) {
            $seenFrom = $before->seenFrom($row->atMs);
            if ($seenFrom > $row->atMs && !$isRepeat) {
                $late[$seenFrom][] = $row;
            }
            $after = $isRepeat ? $after : $after->learned($nowMs, max(0, $nowMs - $row->atMs));
        }
        foreach ($late as $seenFrom => $ofThen) {
            $this->late->keep($ofThen, $seenFrom);
        }
        $this->next[$targetId] = $after;
    }

    /** All that came until now is in this transaction or an earlier one. */
    public function settle(int $nowMs): void
    {
        $rows = [];
        foreach ($this->next + $this->kept() as $target => $one) {
            $this->next[$target] = $one = $one->settled($nowMs);
            $rows[] = [$target, $one->throughMs, $one->hourAtMs, $one->worstMs, $one->beforeMs];
        }
        $this->database->upsert('target_punctuality', self::COLUMNS, $rows);
    }

    /** The transaction is committed. */
    public function keepSettled(): void
    {
        $this->kept = $this->next + ($this->kept ?? []);
        $this->next = [];
    }

    /** @return array<int, Punctuality> */
    private function kept(): array
    {
        if ($this->kept === null) {
            // While nobody collected, rules went on by the clock.
            $byClock = $this->clock->now()->ms - SettledReadings::COLLECTOR_GONE_MS;
            $this->kept = [];
            foreach ($this->database->connection->fetchAllAssociative('SELECT * FROM target_punctuality') as $row) {
                if (!$this->slots->has(Scalar::int($row['target_id']))) {
                    continue;
                }
                $one = new Punctuality(
                    Scalar::int($row['through_at']),
                    Scalar::int($row['hour_at']),
                    Scalar::int($row['worst_ms']),
                    Scalar::int($row['before_ms']),
                );
                $this->kept[Scalar::int($row['target_id'])] = $one->lookedThrough($byClock);
            }
        }

        return $this->kept;
    }
}

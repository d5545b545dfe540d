<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** Lets go of the days that are past the time their tier is kept for, a partition at a time; nothing younger goes. */
final readonly class LetGo
{
    public function __construct(private Retention $retention, private Partitions $partitions, private LastRollups $lastRollups)
    {
    }

    /**
     * @phpstan-impure
     *
     * @return array{partitions: int, isDone: bool} how many went; not done is where readings have to be rolled up before they go, and more of that is left
     */
    public function round(int $nowMs): array
    {
        $days = $this->retention->days();
        $dropped = 0;
        $isDone = true;
        foreach (RetentionTier::cases() as $tier) {
            $beforeMs = self::before($days[$tier->value], $nowMs);
            if (
                $tier === RetentionTier::Readings
                && $days[RetentionTier::FiveMinutes->value] > $days[$tier->value]
                && $this->lastRollups->round($beforeMs) > 0
            ) {
                // Some at a time, and readings stay until none is left.
                $isDone = false;
                continue;
            }
            $gone = array_sum(
                array_map(fn(string $table): int => $this->partitions->dropBefore($table, $beforeMs), $tier->tables()),
            );
            if ($gone !== 0) {
                $this->retention->rememberLetGo($tier, $beforeMs);
            }
            $dropped += $gone;
        }

        return ['partitions' => $dropped, 'isDone' => $isDone];
    }

    /**
     * What a tier takes, and what it would let go of if it was kept for so many days.
     *
     * @param array{partitions: list<array{endMs: int|null, rows: int, bytes: int}>, fromMs: int, coveredDays: int} $sizes
     *
     * @return array{bytes: int, rows: int, coveredDays: int, bytesADay: int, droppedDays: int, droppedBytes: int}
     */
    public static function outlook(array $sizes, int $days, int $nowMs): array
    {
        $before = self::before($days, $nowMs);
        $dropped = array_filter(
            $sizes['partitions'],
            static fn(array $one): bool => $one['endMs'] !== null && $one['endMs'] <= $before && $one['rows'] > 0,
        );
        $bytes = array_sum(array_column($sizes['partitions'], 'bytes'));

        return [
            'bytes' => $bytes,
            'rows' => array_sum(array_column($sizes['partitions'], 'rows')),
            'coveredDays' => $sizes['coveredDays'],
            'bytesADay' => $sizes['coveredDays'] === 0 ? 0 : intdiv($bytes, $sizes['coveredDays']),
            'droppedDays' =>
                $dropped === [] ? 0 : (int) ceil((max(array_column($dropped, 'endMs')) - $sizes['fromMs']) / Span::DAY_MS),
            'droppedBytes' => array_sum(array_column($dropped, 'bytes')),
        ];
    }

    private static function before(int $days, int $nowMs): int
    {
        return Span::dayOf($nowMs - $days * Span::DAY_MS);
    }
}

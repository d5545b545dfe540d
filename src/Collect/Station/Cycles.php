<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Olivine\App\Collect\Check\CheckWishes;
use Olivine\App\Collect\Entity\Place;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Time\Duration;

/**
 * One exchange with a station: it brings results, each with its number, and hears through which number they are taken, what it is to
 * ask from now on, and what somebody wants asked now. What it brings again, since the answer was lost, counts once.
 *
 * Its clock may be wrong: it says what it shows, and its times are put right by the difference.
 */
final readonly class Cycles
{
    public const MOST_RESULTS = 500;
    private const CLOCKS_AGREE_MS = 2_000;
    private const OLDEST_DAYS = 7;
    private const LONGEST_LEAP = 100_000_000;

    public function __construct(
        private Database $database,
        private StationOrders $orders,
        private Arrivals $arrivals,
        private CheckWishes $wishes,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param array<mixed> $brought
     *
     * @return array<string, mixed>
     *
     * @throws Problem naming what cannot be so
     */
    public function one(Place $place, array $brought): array
    {
        $now = $this->clock->now();
        $written = $brought['results'] ?? null;
        if (!is_int($brought['now'] ?? null) || !is_string($brought['revision'] ?? null) || !is_array($written)) {
            throw new Problem(422, 'A cycle has now, revision, results and figures');
        }
        if (count($written) > self::MOST_RESULTS) {
            throw Problem::field('results', 'At most ' . self::MOST_RESULTS . ' results are taken at once; bring the others with the next cycle');
        }
        $aheadMs = $brought['now'] - $now->ms;
        $shiftMs = abs($aheadMs) > self::CLOCKS_AGREE_MS ? -$aheadMs : 0;
        $through = Scalar::int($this->database->connection->fetchOne('SELECT taken_through FROM place WHERE id = ? FOR UPDATE', [$place->id()]));
        $mine = $this->checksOf($place->id());
        $oldest = $now->minus(Duration::ofDays(self::OLDEST_DAYS))->ms;
        [$taken, $dropped] = [[], 0];
        foreach ($written as $one) {
            $result = Result::read($one);
            if ($result === null || !isset($mine[$result->check])) {
                ++$dropped;
                $through = self::through($through, is_array($one) ? $one['number'] ?? null : null);
                continue;
            }
            $at = min($now->ms, $result->atMs + $shiftMs);
            $next = self::through($through, $result->number);
            if ($next > $through && $at > $oldest) {
                $taken[] = [$result, $at];
            }
            $through = $next;
        }
        $this->arrivals->keep($place->id(), $taken);
        $figures = self::figures($brought['figures'] ?? null) + ['clockAheadMs' => $shiftMs === 0 ? 0 : $aheadMs, 'dropped' => $dropped];
        $this->database->connection->executeStatement(
            'UPDATE place SET taken_through = ?, seen_at = ?, figures = ? WHERE id = ?',
            [$through, $now->ms, json_encode($figures, JSON_THROW_ON_ERROR), $place->id()],
        );
        $revision = $this->orders->revision($place->id());

        return [
            'taken' => $through,
            'revision' => $revision,
            'place' => $place->name,
            'checks' => $revision === $brought['revision'] ? null : $this->orders->checks($place->id()),
            'wishes' => $this->wishes->take(array_keys($mine), $place->id()),
        ];
    }

    /** @return int with this one too; a number that leaps would keep all that come from being taken */
    private static function through(int $through, mixed $number): int
    {
        return is_int($number) && $number > $through && $number - $through <= self::LONGEST_LEAP ? $number : $through;
    }

    /** @return array<int, true> the checks that name this place, also those that are paused: what is late is still theirs */
    private function checksOf(int $place): array
    {
        $ids = $this->database->connection->fetchFirstColumn('SELECT id FROM target WHERE JSON_CONTAINS(places, ?)', [(string) $place]);

        return array_fill_keys(Scalar::ints($ids), true);
    }

    /** @return array<string, int|float|string> */
    private static function figures(mixed $written): array
    {
        $kept = [];
        foreach (['askedAMinute', 'busyShare', 'lateMs', 'waiting', 'lost', 'room', 'version'] as $name) {
            $value = is_array($written) ? $written[$name] ?? null : null;
            if (is_int($value) || is_float($value) || (is_string($value) && strlen($value) <= 60)) {
                $kept[$name] = $value;
            }
        }

        return $kept;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Answer\CutOff;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;

/** Which places are cut off: those that reach none of the checks whose targets are always up. */
final readonly class Outages
{
    /** After this nothing is heard of a station, which tells of itself each second. */
    public const SILENT_MS = 30_000;

    public function __construct(private Connection $connection)
    {
    }

    /** @return array<int, int> place → since when */
    public function byPlace(): array
    {
        $since = [];
        foreach ($this->known() as $place => $at) {
            if ($at !== null) {
                $since[$place] = $at;
            }
        }

        return $since;
    }

    /** @return CutOff|null null where none is */
    public function now(): ?CutOff
    {
        $known = $this->known();
        $since = array_filter($known, is_int(...));
        if ($since === []) {
            return null;
        }
        $names = $this->connection->fetchAllKeyValue('SELECT id, name FROM place WHERE removed_at IS NULL');
        $off = array_map(Scalar::text(...), array_intersect_key($names, $since));

        return new CutOff(array_values($off), min($since), count($since) === count($known));
    }

    /** @return list<string> places whose stations should have been heard of since */
    public function silentStations(Instant $now): array
    {
        $names = $this->connection->fetchFirstColumn(
            'SELECT name FROM place WHERE key_digest IS NOT NULL AND removed_at IS NULL AND COALESCE(seen_at, created_at) < ? ORDER BY name',
            [$now->ms - self::SILENT_MS],
        );

        return array_map(Scalar::text(...), $names);
    }

    /** @return array<int, int|null> place that has references → since when it reaches none of them; null where it does */
    private function known(): array
    {
        $rows = $this->connection->fetchAllNumeric(
            'SELECT s.place, MIN(s.verdict = ?), MAX(s.since_at) FROM check_state s JOIN target t ON t.id = s.target_id
             WHERE t.is_reference = 1 AND t.paused = 0 AND t.removed_at IS NULL AND JSON_CONTAINS(t.places, s.place) GROUP BY s.place',
            [Verdict::Down->value],
        );
        $known = [];
        foreach ($rows as [$place, $areAllDown, $at]) {
            $known[Scalar::int($place)] = Scalar::int($areAllDown) === 1 ? Scalar::int($at) : null;
        }

        return $known;
    }
}

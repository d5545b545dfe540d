<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\Connection;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Tree;

/** Up to which instant rules may look: nothing that comes in time is missing before it. */
final readonly class SettledReadings
{
    /** A collector that has been silent for this long is gone; the clock decides then. */
    public const COLLECTOR_GONE_MS = 15_000;

    public function __construct(private Connection $connection, private SeriesIndex $index)
    {
    }

    public function through(int $nowMs): int
    {
        $settled = $this->connection->fetchOne('SELECT through_at FROM settled WHERE part = ?', ['collector']);
        $byClock = $nowMs - self::COLLECTOR_GONE_MS;

        return $settled === false || (int) $settled < $byClock ? $byClock : (int) $settled;
    }

    /** @return array<int, int> target whose readings carry times of their own → through which instant they have come, as they use to */
    public function later(): array
    {
        $later = [];
        foreach (
            $this->connection->fetchAllKeyValue('SELECT target_id, through_at FROM target_punctuality') as $target => $through
        ) {
            $later[(int) $target] = (int) $through;
        }

        return $later;
    }

    /**
     * A formula looks no further than the latest of its targets has come.
     *
     * @param array<int, int> $later
     */
    public function throughFor(Node $formula, int $throughMs, array $later, int $nowMs): int
    {
        $through = $throughMs;
        foreach ($later === [] ? [] : Tree::selections($formula) as $selection) {
            foreach ($this->index->select($selection) as $series) {
                $through = min($through, $later[$series->targetId] ?? $through);
            }
        }

        // Where nobody collects, the clock decides for these too.
        return $throughMs === $nowMs - self::COLLECTOR_GONE_MS ? $throughMs : $through;
    }
}

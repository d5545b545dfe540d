<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Scalar;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;

/** Up to which instant rules may look: nothing that comes in time is missing before it. */
final readonly class SettledReadings
{
    /** A collector that has been silent for this long is gone; the clock decides then. */
    public const COLLECTOR_GONE_MS = 15_000;

    public function __construct(private Connection $connection, private SeriesIndex $index)
    {
    }

    public function at(int $nowMs): Settled
    {
        $settled = $this->connection->fetchAllKeyValue('SELECT slot, through_at FROM settled WHERE part = ?', [
            PartName::Collector->value,
        ]);
        $through = array_map(
            static fn(int $slot): ?int => isset($settled[$slot]) ? Scalar::int($settled[$slot]) : null,
            range(0, PartName::Collector->slots() - 1),
        );
        /** @var array<int, mixed> $later */
        $later = $this->connection->fetchAllKeyValue('SELECT target_id, through_at FROM target_punctuality');

        return new Settled($nowMs - self::COLLECTOR_GONE_MS, $through, Scalar::ints($later));
    }

    /**
     * A formula looks no further than the latest of its targets has come.
     *
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function throughFor(Node $formula, Settled $settled): int
    {
        if ($settled->isEven()) {
            return $settled->slowest();
        }
        $through = null;
        foreach (Tree::selections($formula) as $selection) {
            foreach ($this->index->select($selection) as $series) {
                $through = min($through ?? PHP_INT_MAX, $settled->ofTarget($series->targetId));
            }
        }

        return $through ?? $settled->slowest();
    }
}

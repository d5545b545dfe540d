<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;

/** The series of one page: which slot is whose, and which of them count. */
final readonly class PageSeries
{
    /**
     * @param array<int, int>  $slots    slot → series
     * @param array<int, true> $counters by series
     */
    private function __construct(public array $slots, public array $counters)
    {
    }

    public static function of(Connection $connection, int $page): self
    {
        $slots = [];
        $counters = [];
        foreach (
            $connection->fetchAllNumeric(
                "SELECT s.slot, s.id, m.type IN ('counter', 'histogram', 'summary') FROM series s JOIN metric m ON m.id = s.metric_id WHERE s.page = ?",
                [$page],
            ) as [$slot, $id, $counts]
        ) {
            $slots[Scalar::int($slot)] = Scalar::int($id);
            if (Scalar::int($counts) === 1) {
                $counters[Scalar::int($id)] = true;
            }
        }

        return new self($slots, $counters);
    }

    /** @return list<int> */
    public function ids(): array
    {
        return array_values($this->slots);
    }
}

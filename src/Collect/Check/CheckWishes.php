<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Entity\Place;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;

/** Checks that somebody wants asked now, from each of their places. */
final readonly class CheckWishes
{
    public function __construct(private Database $database)
    {
    }

    /** @param list<int> $places */
    public function wish(int $targetId, array $places, int $nowMs): void
    {
        $this->database->insertNew(
            'check_wish',
            ['target_id', 'place', 'at'],
            array_map(static fn(int $place): array => [$targetId, $place, $nowMs], $places),
        );
    }

    /**
     * Whoever takes a wish sees to it; those of checks that another copy asks are left to it.
     *
     * @param list<int> $asked the checks that are asked by whoever takes
     *
     * @return list<int> those of them that are wished for at this place
     */
    public function take(array $asked, int $place = Place::CENTRE): array
    {
        $connection = $this->database->connection;
        $wished = Scalar::ints($connection->fetchFirstColumn('SELECT target_id FROM check_wish WHERE place = ?', [$place]));
        $taken = array_values(array_intersect($wished, $asked));
        foreach ($taken as $id) {
            $connection->executeStatement('DELETE FROM check_wish WHERE target_id = ? AND place = ?', [$id, $place]);
        }

        return $taken;
    }
}

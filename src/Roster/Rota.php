<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Settings;
use Olivine\Core\Roster\Rotation;

/** The rota of the people who take turns, in the instance's zone. */
final readonly class Rota
{
    private const HOURS = [6, 18];
    private const ANCHOR_DAY = '2026-01-05';

    public function __construct(private Connection $connection, private Settings $settings)
    {
    }

    /** Null while nobody takes shifts. */
    public function rotation(): ?Rotation
    {
        $people = array_map(
            intval(...),
            $this->connection->fetchFirstColumn(
                'SELECT id FROM person WHERE rota_place IS NOT NULL AND barred_at IS NULL AND removed_at IS NULL ORDER BY rota_place, id',
            ),
        );

        return $people === [] ? null : new Rotation($people, self::HOURS, self::ANCHOR_DAY, $this->settings->zone());
    }
}

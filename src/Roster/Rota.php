<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Settings;
use Olivine\Core\Roster\Rotation;

/** The rota of the people who take turns, in the instance's zone. */
final readonly class Rota
{
    public const HOURS = [6, 18];
    public const ANCHOR_DAY = '2026-01-05';

    public function __construct(private PersonRepository $people, private Settings $settings)
    {
    }

    /** Null while nobody takes shifts. */
    public function rotation(): ?Rotation
    {
        $people = $this->people->inTheRota();

        return $people === [] ? null : new Rotation($people, self::HOURS, self::ANCHOR_DAY, $this->settings->zone());
    }
}

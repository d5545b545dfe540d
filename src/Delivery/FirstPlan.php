<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\People\Role;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\Listener;

/** What answers from the first moment on: everything by service, up the rota, and to the administrators where nobody takes shifts. */
final readonly class FirstPlan
{
    private const LADDER = 'on call';

    public static function of(Settings $settings): PlanDefinition
    {
        $rung = static fn(Listener $who, string $name = ''): RungDefinition => new RungDefinition(
            [new WhoDefinition($who, $name)],
            afterSeconds: $settings->secondRungSeconds,
        );

        return new PlanDefinition(
            [new PathDefinition(PathDefinition::EVERYTHING_ELSE, self::LADDER, per: ['service'], gatherSeconds: $settings->gatherSeconds)],
            [
                new LadderDefinition(
                    self::LADDER,
                    [$rung(Listener::OnCall), $rung(Listener::NextOnRoster), $rung(Listener::Role, Role::Administrator->value)],
                ),
            ],
        );
    }
}

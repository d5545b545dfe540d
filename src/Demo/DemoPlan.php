<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\HoursDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\StretchDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\Core\Delivery\Listener;

/** Who hears of what at Saltmarsh Ferries. */
final readonly class DemoPlan
{
    public const REASON = 'Piers by night and day; certificates in office hours, by whose they are';

    /** @param PlanDefinition $installed what is there already goes on for everything else */
    public static function over(PlanDefinition $installed): PlanDefinition
    {
        $last = $installed->paths[count($installed->paths) - 1];
        $boarding = new PathDefinition(
            'boarding',
            DemoRosters::PIERS,
            'service = "boarding-gate" and severity in ("critical", "major")',
            per: ['service'],
            gatherSeconds: $last->gatherSeconds,
        );
        $certificates = new PathDefinition(
            'certificates',
            'by the owner',
            'rule like "*ertificate*"',
            new HoursDefinition([new StretchDefinition([1, 2, 3, 4, 5], '08:00', '18:00')], 'Europe/Lisbon', ['holidays']),
            ['site'],
            gatherUntil: ['09:00', '17:00'],
        );
        $rung = static fn(Listener $who, int $minutes, string $name = '', string ...$by): RungDefinition => new RungDefinition(
            [new WhoDefinition($who, $name)],
            array_values($by),
            60 * $minutes,
        );
        $piers = new LadderDefinition(DemoRosters::PIERS, [
            $rung(Listener::OnCall, 15, DemoRosters::PIERS, DemoChannels::SMS, MailChannel::NAME),
            $rung(Listener::NextOnRoster, 15, DemoRosters::PIERS, DemoChannels::VOICE),
            $rung(Listener::OnCall, 0, 'duty managers', DemoChannels::VOICE, DemoChannels::SMS),
        ]);
        $isOfThePiers = 'service = "boarding-gate" and severity in ("critical", "major")';

        return new PlanDefinition(
            [$boarding, $certificates, $last],
            [...$installed->ladders, $piers, new LadderDefinition('by the owner', [$rung(Listener::Owner, 60), $rung(Listener::OnCall, 60)])],
            [
                new CopyDefinition('skarn room', 'site = "skarn"', by: [DemoPeople::WEBHOOK, DemoChannels::CHAT]),
                new CopyDefinition('pier desk', $isOfThePiers, by: [DemoChannels::DESK]),
            ],
            [
                new TeamDefinition('piers', ['ines@saltmarsh.example', 'oyelaran@saltmarsh.example']),
                new TeamDefinition('platform', ['tomasz@saltmarsh.example', 'ines@saltmarsh.example']),
                new TeamDefinition('tickets', ['tomasz@saltmarsh.example']),
            ],
        );
    }
}

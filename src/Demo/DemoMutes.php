<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Definition\HoursDefinition;
use Olivine\App\Delivery\Definition\MuteKind;
use Olivine\App\Delivery\Definition\StretchDefinition;
use Olivine\App\Delivery\Definition\WishesDefinition;
use Olivine\App\Delivery\Entity\KeptMute;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What is hushed at Saltmarsh Ferries, and how some of its people want to be told. */
final readonly class DemoMutes
{
    private const ZONE = 'Europe/Lisbon';
    private const ENDS_IN_MINUTES = 50;

    public function __construct(private EntityManagerInterface $entities, private PersonRepository $people)
    {
    }

    public function make(Instant $now): void
    {
        $byAddress = $this->people->byAddress();
        $ines = $byAddress['ines@saltmarsh.example'];
        $sunday = new \DateTimeImmutable('last sunday 01:00', new \DateTimeZone(self::ZONE));
        $window = new KeptMute(
            MuteKind::Window,
            'crew rota upgrade',
            'service = "crew-rota" and severity != "critical"',
            'Its database is brought up to date each Sunday night',
            $byAddress['tomasz@saltmarsh.example'],
            $now,
            Instant::of($sunday),
            Instant::of($sunday->setTime(3, 0)),
            self::ZONE,
            'FREQ=WEEKLY;BYDAY=SU',
        );
        $ends = $now->plus(Duration::ofMinutes(self::ENDS_IN_MINUTES));
        $drill = new KeptMute(
            MuteKind::Mute,
            'gangway drill',
            'service = "tide-tables" and site = "skarn"',
            'The crew practises without the tide display',
            $ines,
            $now,
            $now,
            $ends,
            self::ZONE,
        );
        $this->entities->persist($window);
        $this->entities->persist($drill);
        $this->wish();
        $this->entities->flush();
    }

    /** Mei-Lin is called for what is critical and sleeps else; Sunniva reads the chat; the others leave it to the rung. */
    private function wish(): void
    {
        $nights = new HoursDefinition([new StretchDefinition([1, 2, 3, 4, 5, 6, 7], '23:00', '06:00')], self::ZONE);
        $wishes = [
            'mei-lin@saltmarsh.example' => new WishesDefinition([DemoChannels::VOICE], [DemoChannels::SMS], quiet: $nights),
            'sunniva@saltmarsh.example' => new WishesDefinition([DemoChannels::VOICE, DemoChannels::SMS], [DemoChannels::SMS], [DemoChannels::CHAT]),
        ];
        foreach ($this->people->byName() as $person) {
            $wish = $wishes[$person->email] ?? null;
            if ($wish !== null) {
                /** @var array<string, mixed> $kept */
                $kept = json_decode(json_encode($wish, JSON_THROW_ON_ERROR), true, 16, JSON_THROW_ON_ERROR);
                $person->wishes = $kept;
            }
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Definition\ContactKind;
use Olivine\App\Delivery\Entity\ContactMethod;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\CoverState;
use Olivine\App\Roster\Definition\DutyHoursDefinition;
use Olivine\App\Roster\Definition\HandoverDefinition;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\Definition\RotationDefinition;
use Olivine\App\Roster\Entity\KeptAbsence;
use Olivine\App\Roster\Entity\KeptCover;
use Olivine\App\Roster\KeptRosters;
use Olivine\App\Roster\RosterKeeping;
use Olivine\Core\Roster\Handover;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/** Who is on call at Saltmarsh Ferries: four rosters, a gap on Sunday evening, and a quarter in which Tomasz had most of the nights. */
final readonly class DemoRosters
{
    public const FIRST = 'web';
    public const PIERS = 'piers';
    private const ZONE = 'Europe/Lisbon';
    private const BEGAN_DAYS_AGO = 120;
    private const NIGHTS = '22:00';
    private const WEEK = 7;
    /** Of a range that is kept for fiction. */
    private const NUMBERS = [
        'ines' => '+447700900101',
        'tomasz' => '+447700900102',
        'oyelaran' => '+447700900103',
        'mei-lin' => '+447700900104',
        'sunniva' => '+447700900105',
        'admin' => '+447700900106',
    ];

    public function __construct(
        private EntityManagerInterface $entities,
        private RosterKeeping $keeping,
        private KeptRosters $kept,
        private PersonRepository $people,
    ) {
    }

    /** @throws Problem where one of them cannot be so */
    public function make(Instant $now): void
    {
        $began = $now->minus(Duration::ofDays(self::BEGAN_DAYS_AGO));
        $ids = [];
        foreach (self::all($began->in(new \DateTimeZone(self::ZONE))->format('Y-m-d')) as $definition) {
            $ids[$definition->name] = $this->keeping->begin($definition, 'As it was agreed in summer', null, $began)->id();
        }
        $this->standIns($ids[self::PIERS], $began, $now);
        $this->leaveSundayEvening($ids[self::PIERS], $now);
        $this->knowHowToReach($now);
        $this->entities->flush();
    }

    /** @return list<RosterDefinition> */
    private static function all(string $from): array
    {
        $of = static fn(string ...$names): array => array_values(array_map(static fn(string $name): string => "{$name}@saltmarsh.example", $names));
        $weekly = static fn(int $day, string $at): HandoverDefinition => new HandoverDefinition(self::WEEK, $day, [$at]);

        return [
            new RosterDefinition(self::FIRST, self::ZONE, [
                new RotationDefinition('turns', $of('ines', 'tomasz', 'oyelaran'), '2026-01-05', new HandoverDefinition(1, 0, ['06:00', '18:00'])),
            ]),
            new RosterDefinition(self::PIERS, self::ZONE, [
                new RotationDefinition('days', $of('ines', 'oyelaran'), $from, $weekly(1, '08:00')),
                new RotationDefinition(
                    'nights',
                    $of('mei-lin', 'sunniva', 'tomasz'),
                    $from,
                    new HandoverDefinition(4, 0, [self::NIGHTS]),
                    new DutyHoursDefinition(self::NIGHTS, '06:00'),
                ),
            ]),
            new RosterDefinition('brokers', self::ZONE, [new RotationDefinition('weeks', $of('tomasz', 'sunniva'), $from, $weekly(3, '09:00'))]),
            new RosterDefinition('duty managers', self::ZONE, [new RotationDefinition('weeks', $of('admin', 'mei-lin'), $from, $weekly(5, '17:00'))]),
        ];
    }

    /** Tomasz stood in for Sunniva in most of her nights, and once in a while for Mei-Lin. */
    private function standIns(int $roster, Instant $began, Instant $now): void
    {
        $people = $this->people->byAddress();
        $tomasz = $people['tomasz@saltmarsh.example'];
        foreach (['sunniva' => 4, 'mei-lin' => 1] as $name => $ofSix) {
            $for = $people["{$name}@saltmarsh.example"];
            for ($week = 0; $began->plus(Duration::ofDays(self::WEEK * ($week + 1)))->isBefore($now); ++$week) {
                if ($week % 6 < $ofSix) {
                    $from = $began->plus(Duration::ofDays(self::WEEK * $week));
                    $to = $from->plus(Duration::ofDays(self::WEEK));
                    $agreed = $from->minus(Duration::ofDays(1));
                    $this->entities->persist(new KeptCover($roster, $tomasz, $for, $from, $to, CoverState::Accepted, '', $for, $agreed));
                }
            }
        }
    }

    /** All found what was sent to them, but for Tomasz's number: nobody knows whether anything arrives there. */
    private function knowHowToReach(Instant $now): void
    {
        $people = $this->people->byAddress();
        foreach ($people as $person) {
            $mail = new ContactMethod($person, MailChannel::NAME, '', '');
            $mail->verifiedAt = $now->minus(Duration::ofDays(9));
            $this->entities->persist($mail);
        }
        foreach (self::NUMBERS as $name => $number) {
            $person = $people["{$name}@saltmarsh.example"];
            $phone = new ContactMethod($person, ContactKind::Phone->value, 'mobile', $number);
            // Nobody knows whether anything arrives at Tomasz's.
            $phone->verifiedAt = $name === 'tomasz' ? null : $now->minus(Duration::ofDays(2));
            $this->entities->persist($phone);
            $chat = new ContactMethod($person, ContactKind::Chat->value, 'crew', "@{$name}");
            $chat->verifiedAt = $now->minus(Duration::ofDays(4));
            $this->entities->persist($chat);
        }
    }

    /** Whoever has the days at the piers then is away from 18:00 until the nights begin. */
    private function leaveSundayEvening(int $roster, Instant $now): void
    {
        $wall = new WallTimes(new \DateTimeZone(self::ZONE));
        $today = $wall->dayOf($now);
        // That of the next week: there is time to close it.
        $sunday = $today + 7;
        while (Handover::weekdayOf($sunday) !== self::WEEK) {
            ++$sunday;
        }
        $from = Instant::ofMs($wall->at($sunday, 18 * 60));
        $person = $this->kept->rosters()->onCall(self::PIERS, $from);
        if ($person !== null) {
            $to = Instant::ofMs($wall->at($sunday, 22 * 60));
            $absence = new KeptAbsence($person, $from, $to, 'at the harbour fair', $person, $now->minus(Duration::ofDays(2)));
            $absence->rosterId = $roster;
            $this->entities->persist($absence);
        }
    }
}

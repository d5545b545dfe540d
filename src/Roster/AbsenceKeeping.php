<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Definition\AwayFields;
use Olivine\App\Roster\Definition\LocalTime;
use Olivine\App\Roster\Entity\KeptAbsence;
use Olivine\Core\Time\WallTimes;

/** Absences entered by hand: by whoever will be away, or an administrator. */
final readonly class AbsenceKeeping
{
    public function __construct(
        private EntityManagerInterface $entities,
        private PersonRepository $people,
        private Settings $settings,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem 403, 404; 422 naming the field */
    public function enter(AwayFields $fields, Person $by): KeptAbsence
    {
        $person = $this->people->there($fields->person);
        if ($person->id !== $by->id && $by->role !== Role::Administrator) {
            throw new Problem(403, 'You may enter when you are away yourself; an administrator does for others');
        }
        if ($fields->zone !== '' && !in_array($fields->zone, \DateTimeZone::listIdentifiers(), true)) {
            throw Problem::field('zone', "zone must be a time zone such as Europe/Lisbon; there is no {$fields->zone}");
        }
        $wall = new WallTimes($fields->zone === '' ? $this->settings->zone() : new \DateTimeZone($fields->zone));
        [$from, $to] = [LocalTime::instant('from', $fields->from, $wall), LocalTime::instant('to', $fields->to, $wall)];
        $now = $this->clock->now();
        if (!$from->isBefore($to)) {
            throw Problem::field('to', "to must be after from; {$fields->to} is not");
        }
        if (!$to->isAfter($now)) {
            throw Problem::field('to', 'to must not be past: who was on call is not changed afterwards');
        }
        $absence = new KeptAbsence($person->id(), $from->later($now), $to, $fields->note, $by->id, $now);
        $this->entities->persist($absence);
        $this->entities->flush();
        $this->audit->record('entered an absence of', "person {$person->email}", null, ['from' => $fields->from, 'to' => $fields->to, 'note' => $fields->note]);

        return $absence;
    }

    /**
     * One that has begun ends now; one that is to come is taken out.
     *
     * @throws Problem 403, 409
     */
    public function end(KeptAbsence $absence, Person $by): void
    {
        if ($absence->personId !== $by->id && $by->role !== Role::Administrator) {
            throw new Problem(403, 'Only whoever is away, or an administrator, ends it');
        }
        if ($absence->calendarId !== null) {
            throw new Problem(409, 'It comes from a calendar; change it there, or take the calendar out');
        }
        $now = $this->clock->now();
        if (!$absence->toAt->isAfter($now)) {
            throw new Problem(409, 'This absence is over');
        }
        $email = $this->people->find($absence->personId)->email ?? '';
        if ($absence->fromAt->isBefore($now)) {
            $absence->toAt = $now;
        } else {
            $this->entities->remove($absence);
        }
        $this->entities->flush();
        $this->audit->record('ended an absence of', "person {$email}", null, null);
    }
}

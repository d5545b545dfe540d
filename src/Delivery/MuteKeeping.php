<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Definition\HoursDefinition;
use Olivine\App\Delivery\Definition\MuteFields;
use Olivine\App\Delivery\Entity\KeptMute;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\Repository\KeptMuteRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Platform\Versions;
use Olivine\App\Roster\Calendar\BadCalendar;
use Olivine\App\Roster\Calendar\RecurrenceRule;
use Olivine\App\Roster\Definition\LocalTime;
use Olivine\Core\Delivery\Event\MutesChanged;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/** Sets, changes and ends what hushes; what is open hears of it at once. */
final readonly class MuteKeeping
{
    private const LONGEST_DAYS = 31;
    private const MOST = 2_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private KeptMuteRepository $mutes,
        private IncidentRepository $incidents,
        private Courses $courses,
        private Settings $settings,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem naming the field */
    public function set(MuteFields $fields, ?Person $author): KeptMute
    {
        $now = $this->clock->now();
        if (count($this->mutes->notOver($now)) >= self::MOST) {
            throw new Problem(409, 'There are ' . self::MOST . ' mutes already, as many as may be; end one first');
        }
        $mute = $this->setQuietly($fields, $author, $now);
        $this->tellIncidents($now);

        return $mute;
    }

    /**
     * Whether it could be so.
     *
     * @throws Problem naming the field
     */
    public function check(MuteFields $fields, ?KeptMute $of): void
    {
        $this->span($fields, $this->clock->now(), $of);
        self::checkMatching($fields->matching);
        self::checkRecurs($fields->recurs);
    }

    /** @throws Problem naming the field */
    private function setQuietly(MuteFields $fields, ?Person $author, Instant $now): KeptMute
    {
        [$from, $to, $zone] = $this->span($fields, $now);
        self::checkMatching($fields->matching);
        self::checkRecurs($fields->recurs);
        $mute = new KeptMute($fields->kind, $fields->name, $fields->matching, $fields->reason, $author?->id, $now, $from, $to, $zone, $fields->recurs);
        $this->entities->persist($mute);
        $this->entities->flush();
        $this->audit->record('muted', "{$mute->kind->value} {$mute->name}", null, self::kept($mute), $author);

        return $mute;
    }

    /**
     * What was hushed until now stays so; what lies in the past is not changed.
     *
     * @throws Problem naming the field; 409 where it is over, or was changed meanwhile
     */
    public function change(KeptMute $mute, MuteFields $fields, ?Person $author, object $shown): void
    {
        Versions::hold($fields->version, $mute->version, $shown);
        $now = $this->clock->now();
        $this->refuseOver($mute, $now);
        [$from, $to, $zone] = $this->span($fields, $now, $mute);
        self::checkMatching($fields->matching);
        self::checkRecurs($fields->recurs);
        $before = self::kept($mute);
        $isOfItsPast = $mute->recurs !== '' && ($to->ms !== $mute->toAt->ms || $zone !== $mute->zone);
        if ($isOfItsPast || $fields->matching !== $mute->matching || $fields->recurs !== $mute->recurs || $from->ms !== $mute->fromAt->ms) {
            // What it hushed until now is explained by what it was.
            $this->endQuietly($mute, $author, $now);
            $this->setQuietly($from->isAfter($now) || $fields->recurs !== '' ? $fields : $fields->fromNow(), $author, $now);
        } else {
            [$mute->name, $mute->reason, $mute->toAt, $mute->zone, $mute->changedAt] = [$fields->name, $fields->reason, $to, $zone, $now];
            $this->entities->flush();
            $this->audit->record('changed', "{$mute->kind->value} {$mute->name}", $before, self::kept($mute), $author);
        }
        // Once, when all of it is as it will be: between the two nothing may be heard.
        $this->tellIncidents($now);
    }

    /** @throws Problem 409 where it is over already */
    public function end(KeptMute $mute, Person $author): void
    {
        $now = $this->clock->now();
        $this->endQuietly($mute, $author, $now);
        $this->tellIncidents($now);
    }

    /** @throws Problem 409 */
    private function endQuietly(KeptMute $mute, ?Person $author, Instant $now): void
    {
        $this->refuseOver($mute, $now);
        $before = self::kept($mute);
        $mute->endedAt = $mute->changedAt = $now;
        $this->entities->flush();
        $this->audit->record('ended', "{$mute->kind->value} {$mute->name}", $before, self::kept($mute), $author);
    }

    /** @throws Problem 409 */
    private function refuseOver(KeptMute $mute, Instant $now): void
    {
        if ($mute->endedAt !== null || ($mute->recurs === '' && !$mute->toAt->isAfter($now))) {
            throw new Problem(409, "{$mute->name} is over already");
        }
    }

    /** What is open may be hushed by it from now on, or may not be any more. */
    private function tellIncidents(Instant $now): void
    {
        $courses = $this->courses->begin();
        $isOpen = ['status' => [IncidentStatus::Open, IncidentStatus::Acknowledged], 'replayed' => false];
        foreach ($this->incidents->findBy($isOpen, ['id' => 'ASC']) as $incident) {
            $one = $courses->of($incident);
            if (!$one->state->isOver()) {
                $courses->step($one, new MutesChanged(), $now);
            }
        }
        $this->entities->flush();
    }

    /**
     * @return array{Instant, Instant, string}
     *
     * @throws Problem
     */
    private function span(MuteFields $fields, Instant $now, ?KeptMute $of = null): array
    {
        $zone = $fields->zone === '' ? $this->settings->zone() : HoursDefinition::zone('zone', $fields->zone);
        $wall = new WallTimes($zone);
        $from = $fields->from === '' ? $of->fromAt ?? $now : LocalTime::instant('from', $fields->from, $wall);
        $to = LocalTime::instant('to', $fields->to, $wall);
        if ($of !== null && intdiv($from->ms, 60_000) === intdiv($of->fromAt->ms, 60_000)) {
            // It is written in minutes: that of its beginning is its beginning.
            $from = $of->fromAt;
        } elseif ($from->isBefore($now)) {
            // A form that was open for a minute means now; what was before cannot be hushed any more.
            $from = $now->since($from)->isLongerThan(Duration::ofMinutes(30)) && $fields->recurs === ''
                ? throw Problem::field('from', 'from must not lie in the past; left empty it begins now')
                : ($fields->recurs === '' ? $now : $from);
        }
        if (!$from->isBefore($to) || ($fields->recurs === '' && !$to->isAfter($now))) {
            throw Problem::field('to', "to must be after from, and in the future; {$fields->to} is not");
        }
        if ($to->since($from)->isLongerThan(Duration::ofDays(self::LONGEST_DAYS))) {
            throw Problem::field('to', 'to: nothing is hushed for more than ' . self::LONGEST_DAYS . ' days at once; set it anew then, if it is still meant');
        }

        return [$from, $to, $zone->getName()];
    }

    /** @throws Problem */
    public static function checkMatching(string $matching): void
    {
        try {
            Parser::filterOf($matching);
        } catch (FormulaError $error) {
            throw Problem::field('matching', "matching: {$error->getMessage()}");
        }
    }

    /** @throws Problem */
    private static function checkRecurs(string $recurs): void
    {
        try {
            if ($recurs !== '') {
                RecurrenceRule::check($recurs);
            }
        } catch (BadCalendar $bad) {
            throw Problem::field('recurs', "recurs: {$bad->getMessage()}");
        }
    }

    /** @return array<string, string|int|null> */
    private static function kept(KeptMute $mute): array
    {
        return [
            'name' => $mute->name,
            'matching' => $mute->matching,
            'reason' => $mute->reason,
            'from' => $mute->fromAt->ms,
            'to' => $mute->toAt->ms,
            'recurs' => $mute->recurs,
            'endedAt' => $mute->endedAt?->ms,
        ];
    }
}

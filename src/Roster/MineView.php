<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\Delivery\Contacts;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Answer\MyOnCall;
use Olivine\App\Roster\Answer\MyShift;
use Olivine\App\Roster\Answer\MyWaking;
use Olivine\App\Roster\Answer\ShownAbsence;
use Olivine\App\Roster\Answer\ShownCover;
use Olivine\App\Roster\Entity\KeptAbsence;
use Olivine\App\Roster\Repository\AbsenceRepository;
use Olivine\App\Roster\Repository\CoverRepository;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\App\Rule\Repository\AlertMarkRepository;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What concerns one person: their shifts, what is asked of them, how they are reached, and what woke them. */
final readonly class MineView
{
    private const SHIFT_DAYS = 28;
    private const WOKEN_DAYS = 31;
    private const MOST_WAKINGS = 50;
    private const NIGHT = [22, 6];

    public function __construct(
        private KeptRosters $kept,
        private RosterRepository $rosters,
        private RosterView $view,
        private CoverRepository $covers,
        private AbsenceRepository $absences,
        private Subscriptions $subscriptions,
        private Contacts $contacts,
        private DeliveryRepository $deliveries,
        private IncidentRepository $incidents,
        private IncidentAlertRepository $alerts,
        private AlertMarkRepository $marks,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    public function of(Person $person): MyOnCall
    {
        $now = $this->clock->now();
        $shifts = $this->shifts($person, $now);

        return new MyOnCall(
            shifts: $shifts,
            covers: $this->coversOf($person, $now),
            away: array_values(
                array_map(
                    fn(KeptAbsence $one): ShownAbsence => $this->view->absence($one, $person),
                    array_filter($this->absences->notOver($now), static fn(KeptAbsence $one): bool => $one->personId === $person->id),
                ),
            ),
            contacts: $this->contacts->of($person),
            junk: $this->contacts->junkWords(),
            wakings: $this->wakings($person, $now),
            links: $this->subscriptions->linksOf($person),
            calendars: $this->subscriptions->calendarsOf($person),
            isOnCall: array_any($shifts, static fn(MyShift $one): bool => !$one->from->isAfter($now) && $one->to->isAfter($now)),
        );
    }

    /** @return list<MyShift> in the order of time */
    private function shifts(Person $person, Instant $now): array
    {
        $rosters = $this->kept->since($now);
        $shifts = [];
        foreach ($this->rosters->inOrder() as $roster) {
            foreach ($rosters->named($roster->name)?->touching($now, $now->plus(Duration::ofDays(self::SHIFT_DAYS))) ?? [] as $shift) {
                if ($shift->person === $person->id) {
                    $because = RosterView::shift($shift, $this->view->names())->because;
                    $shifts[] = new MyShift($roster->name, $roster->id(), $shift->from, $shift->to, $because);
                }
            }
        }
        usort($shifts, static fn(MyShift $a, MyShift $b): int => [$a->from->ms, $a->roster] <=> [$b->from->ms, $b->roster]);

        return $shifts;
    }

    /** @return list<ShownCover> that concern them and are not over: what is asked of them first */
    private function coversOf(Person $person, Instant $now): array
    {
        $shown = [];
        foreach ($this->covers->notOver($now) as $cover) {
            $isOpen = $cover->state === CoverState::Asked || $cover->state->takesPlace();
            $roster = $this->rosters->find($cover->rosterId);
            if ($isOpen && $roster !== null && in_array($person->id, [$cover->personId, $cover->forId, $cover->askedBy], true)) {
                $shown[] = $this->view->cover($cover, $roster->name, $person);
            }
        }
        usort($shown, static fn(ShownCover $a, ShownCover $b): int => [!$a->mayAnswer, $a->from->ms] <=> [!$b->mayAnswer, $b->from->ms]);

        return $shown;
    }

    /** @return list<MyWaking> the newest first */
    private function wakings(Person $person, Instant $now): array
    {
        $wakings = [];
        foreach ($this->deliveries->rungTo($person->id(), $now->minus(Duration::ofDays(self::WOKEN_DAYS)), self::MOST_WAKINGS) as $delivery) {
            $incident = $this->incidents->find($delivery->incidentId);
            if ($incident !== null && $delivery->sentAt !== null) {
                $hour = (int) $delivery->sentAt->in($this->settings->zone())->format('G');
                $wakings[] = new MyWaking(
                    incident: $incident->id(),
                    title: $incident->title,
                    at: $delivery->sentAt,
                    severity: $incident->severity->value,
                    atNight: $hour >= self::NIGHT[0] || $hour < self::NIGHT[1],
                    way: $delivery->channel,
                    worth: $this->worthOf($delivery),
                );
            }
        }

        return $wakings;
    }

    private function worthOf(Delivery $delivery): ?string
    {
        foreach ($this->alerts->findBy(['incidentId' => $delivery->incidentId]) as $alert) {
            $mark = $this->marks->one($alert->ruleId, $alert->labelsHash, $alert->raisedAt);
            if ($mark !== null) {
                return $mark->worth->value;
            }
        }

        return null;
    }
}

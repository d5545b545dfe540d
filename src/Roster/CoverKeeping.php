<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Definition\CoverFields;
use Olivine\App\Roster\Definition\LocalTime;
use Olivine\App\Roster\Entity\KeptCover;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\Repository\CoverRepository;
use Olivine\App\Roster\Repository\RosterRevisionRepository;
use Olivine\Core\Roster\Absence;
use Olivine\Core\Roster\Cover;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/** Covers: asked for by whoever is on call or whoever keeps the rosters, accepted by whoever was asked, or set by an administrator. */
final readonly class CoverKeeping
{
    private const LONGEST_DAYS = 100;
    private const FARTHEST_DAYS = 730;

    public function __construct(
        private EntityManagerInterface $entities,
        private RosterRevisionRepository $revisions,
        private CoverRepository $covers,
        private KeptRosters $kept,
        private PersonRepository $people,
        private Notes $notes,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem 403 where one may not set it; 422 naming the field */
    public function ask(KeptRoster $roster, CoverFields $fields, Person $by): KeptCover
    {
        $isLead = $by->role === Role::Administrator;
        if ($fields->set && !$isLead && $fields->person !== $by->id) {
            throw new Problem(403, 'Only an administrator sets a cover for somebody else without asking; ask them instead');
        }
        if ($fields->for !== $by->id && $by->role === Role::Viewer) {
            throw new Problem(403, 'You may ask for covers of your own shifts; an engineer asks for those of others');
        }
        $wall = new WallTimes(new \DateTimeZone($this->kept->definition($this->revisions->newest($roster->id()))->zone));
        [$from, $to] = [LocalTime::instant('from', $fields->from, $wall), LocalTime::instant('to', $fields->to, $wall)];
        $now = $this->clock->now();
        $this->check($fields, $from, $to, $now);
        $state = $fields->set ? CoverState::Set : CoverState::Asked;
        $cover = new KeptCover($roster->id(), $fields->person, $fields->for, $from->later($now), $to, $state, $fields->note, $by->id, $now);
        $this->refuseWithoutEffect($roster, $cover);
        $this->entities->persist($cover);
        $this->entities->flush();
        $this->askBack($roster, $cover, $fields, $wall);
        $this->audit->record($fields->set ? 'set a cover on' : 'asked for a cover on', "roster {$roster->name}", null, $this->plain($cover));
        $this->notes->ofCover($cover, $roster->name, $by);

        return $cover;
    }

    /** @throws Problem naming the field */
    private static function refuseLong(string $field, Instant $from, Instant $to, Instant $now): void
    {
        if ($to->since($from)->isLongerThan(Duration::ofDays(self::LONGEST_DAYS)) || $to->since($now)->isLongerThan(Duration::ofDays(self::FARTHEST_DAYS))) {
            throw Problem::field($field, sprintf('%s: a cover lasts %d days at most, and ends within two years', $field, self::LONGEST_DAYS));
        }
    }

    /**
     * A swap is two covers that are answered at once.
     *
     * @throws Problem naming the field
     */
    private function askBack(KeptRoster $roster, KeptCover $cover, CoverFields $fields, WallTimes $wall): void
    {
        if ($fields->backFrom === '' && $fields->backTo === '') {
            return;
        }
        [$from, $to] = [LocalTime::instant('backFrom', $fields->backFrom, $wall), LocalTime::instant('backTo', $fields->backTo, $wall)];
        if (!$from->isBefore($to) || !$to->isAfter($cover->at)) {
            throw Problem::field('backTo', "backTo must be after backFrom, and not past; {$fields->backTo} is not");
        }
        self::refuseLong('backTo', $from, $to, $cover->at);
        $back = new KeptCover(
            $roster->id(),
            $cover->forId,
            $cover->personId,
            $from->later($cover->at),
            $to,
            $cover->state,
            $cover->note,
            $cover->askedBy,
            $cover->at,
        );
        try {
            $this->refuseWithoutEffect($roster, $back);
        } catch (Problem $problem) {
            throw Problem::field('backFrom', "backFrom, in return: {$problem->getMessage()}");
        }
        $back->swapId = $cover->id();
        $this->entities->persist($back);
        $this->entities->flush();
        $cover->swapId = $back->id();
        $this->entities->flush();
    }

    /** Of two who answer or take it back in the same moment the second sees what the first one did. */
    private function hold(KeptCover $cover): void
    {
        foreach ($this->both($cover) as $one) {
            $this->entities->refresh($one, LockMode::PESSIMISTIC_WRITE);
        }
    }

    /** @return list<KeptCover> with the other half of a swap, in an order that is the same for both */
    private function both(KeptCover $cover): array
    {
        $other = $cover->swapId === null ? null : $this->covers->find($cover->swapId);

        $both = $other === null ? [$cover] : [$cover, $other];
        usort($both, static fn(KeptCover $a, KeptCover $b): int => $a->id() <=> $b->id());

        return $both;
    }

    /** @throws Problem 403 where one was not asked; 409 where it is settled already */
    public function answer(KeptCover $cover, KeptRoster $roster, bool $accepts, Person $by): void
    {
        $this->hold($cover);
        // The half of a swap that the asking person does is answered with the other one.
        if ($cover->personId !== $by->id || $cover->askedBy === $by->id) {
            throw new Problem(403, 'Only whoever was asked can answer');
        }
        if ($cover->state !== CoverState::Asked) {
            throw new Problem(409, "This cover is {$cover->state->value} already");
        }
        $now = $this->clock->now();
        if (!$cover->toAt->isAfter($now)) {
            throw new Problem(409, 'The time of this cover is over');
        }
        foreach ($this->both($cover) as $one) {
            $one->state = $accepts ? CoverState::Accepted : CoverState::Declined;
            $one->agreedAt = $accepts ? $now : null;
        }
        $this->entities->flush();
        $this->audit->record($accepts ? 'accepted a cover on' : 'declined a cover on', "roster {$roster->name}", null, $this->plain($cover));
        $this->notes->ofCover($cover, $roster->name, $by);
    }

    /**
     * One that is under way ends now; what it was stays.
     *
     * @throws Problem 403, 409
     */
    public function withdraw(KeptCover $cover, KeptRoster $roster, Person $by): void
    {
        if ($by->role !== Role::Administrator && !in_array($by->id, [$cover->askedBy, $cover->forId], true)) {
            throw new Problem(403, 'Whoever asked for a cover takes it back, or whom it is for, or an administrator');
        }
        $this->hold($cover);
        $now = $this->clock->now();
        $isOpen = $cover->state === CoverState::Asked || $cover->state->takesPlace();
        if (!$isOpen || !$cover->toAt->isAfter($now)) {
            throw new Problem(409, $isOpen ? 'This cover is over' : "This cover is {$cover->state->value} already");
        }
        $before = $this->plain($cover);
        foreach ($this->both($cover) as $one) {
            if ($one->state->takesPlace() && $one->fromAt->isBefore($now)) {
                $one->toAt = $one->toAt->earlier($now);
            } else {
                $one->state = CoverState::Withdrawn;
                $one->agreedAt = null;
            }
        }
        $this->entities->flush();
        $this->audit->record('took back a cover on', "roster {$roster->name}", $before, $this->plain($cover));
        $this->notes->ofCover($cover, $roster->name, $by);
    }

    /** @throws Problem naming the field */
    private function check(CoverFields $fields, Instant $from, Instant $to, Instant $now): void
    {
        foreach (['person' => $fields->person, 'for' => $fields->for] as $field => $id) {
            if ($this->people->find($id)?->mayAct() !== true) {
                throw Problem::field($field, "{$field}: there is no such person, or they are barred");
            }
        }
        if ($fields->person === $fields->for) {
            throw Problem::field('person', 'person: nobody covers for themselves');
        }
        if (!$from->isBefore($to)) {
            throw Problem::field('to', "to must be after from; {$fields->to} is not");
        }
        if (!$to->isAfter($now)) {
            throw Problem::field('to', 'to must not be past: who was on call is not changed afterwards');
        }
        self::refuseLong('to', $from, $to, $now);
    }

    /**
     * A cover that would change nothing is a mistake: the one it is for is not on call then.
     *
     * @throws Problem naming the field
     */
    private function refuseWithoutEffect(KeptRoster $roster, KeptCover $cover): void
    {
        $revision = $this->revisions->newest($roster->id());
        $names = $this->people->names();
        $as = static fn(int $person): Cover => new Cover($person, $cover->forId, $cover->fromAt, $cover->toAt);
        // Somebody who is on no roster stands in: where the shifts then name them, the cover would take place.
        $shifts = $this->kept->rotations($revision)->with([$as(-1)], [])->shifts($cover->fromAt, $cover->toAt);
        $namesIt = array_any($shifts, static fn(Shift $one): bool => $one->person === -1);
        if (!$namesIt) {
            throw Problem::field('for', "for: {$names[$cover->forId]} is not on call on the roster {$roster->name} then, so a cover would change nothing");
        }
        $away = array_filter(
            $this->kept->absencesOf($roster->id(), $cover->fromAt),
            static fn(Absence $one): bool => $one->person === $cover->personId && $one->from->isBefore($cover->toAt) && $one->to->isAfter($cover->fromAt),
        );
        if ($away !== []) {
            throw Problem::field('person', "person: {$names[$cover->personId]} is away then");
        }
    }

    /** @return array<string, mixed> */
    private function plain(KeptCover $cover): array
    {
        $names = $this->people->names();

        return [
            'person' => $names[$cover->personId] ?? null,
            'for' => $names[$cover->forId] ?? null,
            'from' => gmdate('Y-m-d H:i\Z', intdiv($cover->fromAt->ms, 1000)),
            'to' => gmdate('Y-m-d H:i\Z', intdiv($cover->toAt->ms, 1000)),
            'state' => $cover->state->value,
            'note' => $cover->note,
        ];
    }
}

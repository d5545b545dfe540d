<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Hasten;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Decision\Withdraw;
use Olivine\Core\Delivery\Decision\WithdrawOtherWays;
use Olivine\Core\Delivery\Event\Acknowledged;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertsCame;
use Olivine\Core\Delivery\Event\AlertsLeft;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Delivery\Event\Assigned;
use Olivine\Core\Delivery\Event\Declined;
use Olivine\Core\Delivery\Event\HandedBack;
use Olivine\Core\Delivery\Event\MutesChanged;
use Olivine\Core\Delivery\Event\NotTaken;
use Olivine\Core\Delivery\Event\ResolvedByHand;
use Olivine\Core\Delivery\Event\SplitOff;
use Olivine\Core\Delivery\Event\Taken;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * The course of an incident, from its first alert to its rest: what an event makes of it, and who is told. It depends on nothing
 * but the incident as it stands, the event, what people set up and the instant, so what runs live is what a replay runs.
 *
 * By example, gathering for 10 s, second rung after 15 min: an alert at 03:12:00 opens an incident, another one of the same group
 * at 03:12:04 joins it. At 03:12:10 who is on call is told of both. Acknowledged at 03:14, it climbs no further; when the last
 * alert is calm, whoever was told and whoever took it hear that it is over.
 *
 * Invariants: of one kind and round a person is told once by each way, and by another one only where one failed. Nobody is told of
 * the raise of what somebody has in hand, or of what is over. No incident comes to its rest without somebody told, or a line that says why not.
 */
final readonly class Course
{
    private Climb $climb;
    private Copies $copies;
    private Telling $telling;
    private Hush $hush;

    public function __construct(private Configuration $configuration)
    {
        $this->hush = new Hush($configuration->mutes);
        $this->climb = new Climb($configuration);
        $this->copies = new Copies($configuration);
        $this->telling = new Telling($configuration);
    }

    /** @param IncidentState|null $incident that the event is about; null where it opens one */
    public function step(?IncidentState $incident, Event $event, Instant $at): Progress
    {
        if ($event instanceof AlertRaised) {
            return match (true) {
                $incident !== null && !$incident->isOver() => $this->join($incident, $event, $at),
                $incident !== null && $this->goesOn($incident, $event, $at) => $this->reopen($incident, $event, $at),
                default => $this->open($event, $at),
            };
        }
        if ($event instanceof SplitOff) {
            return $this->splitOff($event, $at);
        }
        if ($incident === null || ($incident->isOver() && !$event instanceof Taken && !$event instanceof NotTaken)) {
            throw new \LogicException('What is over has no course any more');
        }

        return match (true) {
            $event instanceof Taken => $this->taken($incident, $event, $at),
            $event instanceof NotTaken => $this->failOver($incident, $event, $at),
            $event instanceof AlertTurned => $this->turn($incident, $event, $at),
            $event instanceof AlertEnded => $this->end($incident, $event, $at),
            $event instanceof Acknowledged => $this->acknowledge($incident, $event, $at),
            $event instanceof AlertsCame => $this->takeIn($incident, $event, $at),
            $event instanceof AlertsLeft => $this->letOut($incident, $event, $at),
            $event instanceof Assigned => $this->assign($incident, $event, $at),
            $event instanceof HandedBack => $this->handBack($incident, $event, $at),
            $event instanceof Declined => $this->decline($incident, $event, $at),
            $event instanceof ResolvedByHand => $this->resolve($incident, $event, $at),
            $event instanceof MutesChanged => new Progress(...$this->climb->hushed($incident, $at)),
            $event instanceof TimePassed => $this->climb->climbed($incident, $at),
            default => throw new \LogicException('No course for ' . $event::class),
        };
    }

    /**
     * When time alone does something to it: the next rung, when nobody has it in hand any more, or when it is hushed no more.
     *
     * @param Instant|null $after what was due until then was tried; a rung that reached nobody stays due, and others come
     */
    public function nextAt(IncidentState $incident, ?Instant $after = null): ?Instant
    {
        return $this->climb->nextAt($incident, $after);
    }

    /**
     * The next to be climbed that reaches somebody; of what somebody has in hand for a time the first one after that.
     *
     * @return array{Rung, Instant, non-empty-list<int>}|null with when, and whom it would reach then
     */
    public function nextRung(IncidentState $incident, Instant $now): ?array
    {
        return $this->climb->nextRung($incident, $now);
    }

    /** Where the incident of an alert is looked for. */
    public function placeOf(AlertRaised $event, Instant $at): IncidentPlace
    {
        $path = $this->configuration->answering($event->about, $at);

        return new IncidentPlace($path->name, $path->group($event->about));
    }

    /** Whether an alert makes one that is over come up again: so soon after its end, by the path that answers for it now. */
    public function goesOn(IncidentState $over, AlertRaised $event, Instant $at): bool
    {
        $path = $this->configuration->answering($event->about, $at);
        if ($over->overAt === null || $path->reopens === null || $over->lookedBack || $this->configuration->looksBack) {
            return false;
        }
        $isSame = $over->place()->key() === (new IncidentPlace($path->name, $path->group($event->about)))->key();

        return $isSame && !$over->endedByHand() && !$at->since($over->overAt)->isLongerThan($path->reopens);
    }

    /**
     * What was decided may be overtaken by what happened since: asked when a message is about to leave, of the incident as it
     * stands then.
     *
     * @return string|null why it is told no more; null where it is
     */
    public function overtaken(IncidentState $incident, MessageKind $kind): ?string
    {
        $isInHand = $incident->status === IncidentStatus::Acknowledged;

        return match (true) {
            $kind->isOfTheEnd() => $incident->isOver() ? null : 'it came up again before this was sent',
            $incident->isOver() => 'the incident was over before this was sent',
            $kind === MessageKind::Raised && $isInHand && $this->restsInHand($incident) => 'somebody had it in hand before this was sent',
            $kind === MessageKind::Assigned && !$isInHand => 'nobody had it in hand any more before this was sent',
            default => null,
        };
    }

    /**
     * A message that was to leave while all that it tells of is muted waits until it can be heard; that it is over, and that it was
     * given to somebody, is told all the same.
     *
     * @param IncidentState $incident with its alerts
     *
     * @return array{Instant, Line}|null until when, and what says so; null where it leaves
     */
    public function waits(IncidentState $incident, MessageKind $kind, Instant $at): ?array
    {
        $over = $kind->isOfTheEnd() || $kind === MessageKind::Assigned ? null : $this->hush->over($incident, $at);

        return $over === null ? null : [$over[0], Hush::line($over, $at)];
    }

    private function restsInHand(IncidentState $incident): bool
    {
        return $this->pathOf($incident)->ladder->until === EndsWith::Acknowledged;
    }

    private function open(AlertRaised $event, Instant $at): Progress
    {
        $path = $this->configuration->answering($event->about, $at);
        $group = $path->group($event->about);
        $state = new IncidentState($path->name, $group, $event->title, $event->severity, $at, $this->configuration->looksBack);
        $state = $state->withAlert($event->key, self::grouped($event, $at));
        $answers = $this->configuration->answerWords($path->name);
        [$state, $hushed] = $this->climb->hushed($state, $at);

        return new Progress($state, [
            ...self::began($event),
            self::line($at, $event->words),
            $this->configuration->looksBack
                ? new Line(TrailKind::HeldBack, $at, 'found by replaying recorded readings: nobody was told')
                : self::line($at, "gathers alerts of {$group} {$path->gather->words()} before anyone is told; {$answers}"),
            ...$hushed,
            ...$this->copies->inform($state, CopyTells::Opened, 1, $path->gather->endsAt($at), $at, [$event->about]),
        ]);
    }

    /** It was over for a short time only: the same incident goes on, and its ladder begins anew. */
    private function reopen(IncidentState $over, AlertRaised $event, Instant $at): Progress
    {
        $after = $at->since($over->overAt ?? $at)->words();
        $path = $this->configuration->answering($event->about, $at);
        $due = $path->gather->endsAt($at);
        $state = $over->climbedAnew($due)->hushed(null)->called($event->title, $event->severity)->withAlert($event->key, self::grouped($event, $at));
        [$state, $hushed] = $this->climb->hushed($state, $at);

        return new Progress($state, [
            ...self::began($event),
            self::line($at, "open again, {$after} after it was over: {$event->words}; gathers {$path->gather->words()}, and the ladder begins anew"),
            ...$hushed,
            ...$this->copies->inform($state, CopyTells::Opened, $state->lap + 1, $due, $at, [$event->about]),
        ]);
    }

    private function join(IncidentState $incident, AlertRaised $event, Instant $at): Progress
    {
        $state = $incident->withAlert($event->key, self::grouped($event, $at));
        $path = $this->pathOf($incident);
        $said = [...self::began($event), self::line($at, "{$event->words}{$event->beside}; {$path->sameness()}, so the same incident")];
        [$state, $hushed] = $this->stillHushed($state, [$event->about], $at);
        array_push($said, ...$hushed);
        $due = $path->gather->endsAt($incident->openedAt)->later($at);
        $copies = $this->copies->inform($state, CopyTells::Opened, $state->lap + 1, $due, $at, [$event->about], $incident->alerts);
        if ($event->severity->isWorseThan($incident->severity)) {
            return $this->graver($state, $event->key, $event->title, [...$said, ...$copies], $at);
        }
        $widening = Widening::between($incident, $state, $event->about, $path->gather->endsAt($incident->openedAt));
        $worse = $widening === null ? [] : [self::line($at, $widening->words), ...$this->telling->worse($state, $widening->round, $at)];

        return new Progress($state, [...$said, ...$copies, ...$worse]);
    }

    /**
     * What is hushed may not be any more, as something came up that is not muted, or is graver than what is. Those that were there
     * before are hushed until then, whatever came.
     *
     * @param list<LabelSet> $came what is new of it
     *
     * @return array{IncidentState, list<Decision>}
     */
    private function stillHushed(IncidentState $incident, array $came, Instant $at): array
    {
        $until = $incident->hushedUntil;
        if ($until === null) {
            return [$incident, []];
        }
        $isAsLong = fn(LabelSet $one): bool => $this->hush->until($one, $at)?->isBefore($until) === false;

        return array_all($came, $isAsLong) ? [$incident, []] : $this->climb->hushed($incident, $at);
    }

    private function turn(IncidentState $incident, AlertTurned $event, Instant $at): Progress
    {
        $said = [self::line($at, $event->words)];
        $alert = $incident->alerts[$event->key] ?? null;
        if ($alert === null || $event->severity?->isWorseThan($alert->severity) !== true) {
            return new Progress($incident, $said);
        }
        $state = $incident->withAlert($event->key, $alert->as($event->severity));
        [$state, $hushed] = $this->stillHushed($state, [$state->alerts[$event->key]->about], $at);
        array_push($said, ...$hushed);
        if (!$event->severity->isWorseThan($incident->severity)) {
            return new Progress($state, $said);
        }

        return $this->graver($state, $event->key, $event->title, $said, $at);
    }

    /**
     * An incident is called after the gravest of its alerts; when that is graver than before, it is matched anew, and whoever knows
     * of it is told, but for those that the first rung of another ladder tells in this moment.
     *
     * @param string         $key  of the alert that is the gravest now
     * @param list<Decision> $said
     */
    private function graver(IncidentState $incident, string $key, string $title, array $said, Instant $at): Progress
    {
        $alert = $incident->alerts[$key];
        $state = $incident->called($title, $alert->severity);
        $said[] = self::line($at, "the incident is now {$alert->severity->value}: {$title}");
        $path = $this->configuration->answering($alert->about, $at);
        // By the same ladder, what waited is told now; another one tells it from the beginning.
        $climbs = [];
        $waited = $incident->lookedBack ? [] : [new Hasten($alert->severity)];
        if ($path->name !== $incident->path && !$incident->lookedBack) {
            $state = $state->answeredBy($path->name, $path->group($alert->about), $path->gather->onceGathered($at));
            $answers = $this->configuration->answerWords($path->name);
            $said[] = self::line($at, "matched anew, as it is graver: {$answers} from now on, no longer {$incident->path}");
            $climbs = $this->climb->firstReached($state, $at);
            $waited = [new Withdraw("{$path->name} answers since before this was sent")];
        }

        return new Progress($state, [
            ...$said,
            ...$waited,
            ...$this->telling->worse($state, $alert->severity->rank(), $at, $climbs),
        ]);
    }

    private function end(IncidentState $incident, AlertEnded $event, Instant $at): Progress
    {
        $alert = $incident->alerts[$event->key] ?? null;
        $said = [self::line($at, $event->words)];
        if ($alert === null) {
            return new Progress($incident, $said);
        }
        $state = $incident->withAlert($event->key, $alert->ended($at, $event->how));

        return $state->isAnyUp() ? new Progress($state, $said) : $this->rest($state, $said, $at);
    }

    /**
     * All of its alerts are over, and so is it.
     *
     * @param list<Decision> $said
     */
    private function rest(IncidentState $incident, array $said, Instant $at): Progress
    {
        $ends = array_map(static fn(GroupedAlert $alert): ?Phase => $alert->end, $incident->alerts);
        $isLost = in_array(Phase::Lost, $ends, true);
        $isQuiet = array_filter($ends, static fn(?Phase $end): bool => $end !== Phase::Ended) === [];
        $lasted = $at->since($incident->openedAt)->words();
        $kind = $isQuiet ? TrailKind::HeldBack : TrailKind::Alert;
        $said[] = new Line($kind, $at, match (true) {
            $isLost => "over without an end, after {$lasted}: sight of some of it was lost",
            $isQuiet => "over after {$lasted}: all it looked at was paused, removed or is looked at no more; nobody is told",
            default => "resolved: every alert cleared, after {$lasted}",
        });
        if ($isQuiet) {
            return new Progress($incident->over($at), [...$said, self::withdrawn()]);
        }
        $told = $this->telling->over($incident, $isLost ? MessageKind::Lost : MessageKind::Recovered, $at);

        return new Progress($incident->over($at), [...$said, ...$told, self::withdrawn(), ...self::nobodyHeard($incident, $at)]);
    }

    private function acknowledge(IncidentState $incident, Acknowledged $event, Instant $at): Progress
    {
        $how = $event->how === '' ? '' : " {$event->how}";
        $for = $event->until === null ? '' : " for {$event->until->since($at)->words()}";
        $after = $at->since($incident->openedAt)->words();
        $words = "{$event->name} acknowledged{$for}{$how}, {$after} after it opened";

        return new Progress($incident->heldBy($event->person, $event->until), [self::byHand($at, $words)]);
    }

    /** Whoever has it from now on is told, but for one who takes it. */
    private function assign(IncidentState $incident, Assigned $event, Instant $at): Progress
    {
        $for = $event->until === null ? '' : " for {$event->until->since($at)->words()}";
        $note = $event->note === '' ? '' : ": {$event->note}";
        $takes = $event->person === $event->by;
        $words = $takes ? "{$event->byName} took it{$for}{$note}" : "{$event->byName} gave it to {$event->name}{$for}{$note}";
        $round = $at->since($incident->openedAt)->seconds();
        $ways = $takes ? [] : $this->configuration->waysTo($event->person, [], $incident->severity);
        $tells = array_map(static fn(string $way): Tell => new Tell(MessageKind::Assigned, $round, $event->person, $way, $at), $ways);

        return new Progress($incident->heldBy($event->person, $event->until), [self::byHand($at, $words), ...$tells]);
    }

    /** Alerts of another incident are of this one from now on; whoever is to be told of them is told again only where it is graver. */
    private function takeIn(IncidentState $incident, AlertsCame $event, Instant $at): Progress
    {
        $state = $incident;
        foreach ($event->alerts as $key => $alert) {
            $state = $state->withAlert($key, $alert);
        }
        foreach ($event->told as $person) {
            $state = $state->toldTo($person);
        }
        $came = array_map(static fn(GroupedAlert $alert): LabelSet => $alert->about, array_values($event->alerts));
        [$state, $hushed] = $this->stillHushed($state, $came, $at);
        $said = [self::byHand($at, $event->words), ...$hushed];
        $gravest = self::gravest($event->alerts);
        if ($gravest === null || !$event->severity->isWorseThan($incident->severity)) {
            return new Progress($state, $said);
        }

        return $this->graver($state, $gravest, $event->title, $said, $at);
    }

    private function letOut(IncidentState $incident, AlertsLeft $event, Instant $at): Progress
    {
        $state = $incident;
        foreach ($event->keys as $key) {
            $state = $state->withoutAlert($key);
        }
        $said = [self::byHand($at, $event->words)];

        return $state->isAnyUp() ? new Progress($state, $said) : new Progress($state->over($at), [...$said, self::withdrawn()]);
    }

    /** What somebody takes apart was gathered long ago. Who knows of the alerts hears of their end. */
    private function splitOff(SplitOff $event, Instant $at): Progress
    {
        $alerts = array_intersect_key($event->of->alerts, array_flip($event->keys));
        $gravest = self::gravest($alerts) ?? throw new \LogicException('None of these alerts is there');
        $path = $this->configuration->answering($alerts[$gravest]->about, $at);
        $group = "{$path->group($alerts[$gravest]->about)}, apart from {$event->ofId}";
        $begins = $path->gather->onceGathered($at);
        $state = new IncidentState($path->name, $group, $event->title, $alerts[$gravest]->severity, $at, $event->of->lookedBack, lapFrom: $begins);
        foreach ($alerts as $key => $alert) {
            $state = $state->withAlert($key, $alert);
        }
        foreach ($event->of->told as $person) {
            $state = $state->toldTo($person);
        }
        $words = "{$event->by} made an incident of its own of it, apart from incident {$event->ofId}; {$this->configuration->answerWords($path->name)}";

        return new Progress($state, [self::byHand($at, $words)]);
    }

    /** @param array<string, GroupedAlert> $alerts */
    private static function gravest(array $alerts): ?string
    {
        uasort($alerts, static fn(GroupedAlert $a, GroupedAlert $b): int => [$b->isUp(), $b->severity->rank()] <=> [$a->isUp(), $a->severity->rank()]);

        return array_key_first($alerts);
    }

    private function handBack(IncidentState $incident, HandedBack $event, Instant $at): Progress
    {
        return new Progress($incident->handedBack(), [self::byHand($at, "{$event->name} took the acknowledgement back; the ladder goes on")]);
    }

    /** Whoever cannot see to it lets go of it, and the next rung is told at once; what somebody else has in hand stays there. */
    private function decline(IncidentState $incident, Declined $event, Instant $at): Progress
    {
        $how = $event->how === '' ? '' : " {$event->how}";
        $isOthers = $incident->status === IncidentStatus::Acknowledged && $incident->heldBy !== $event->person;
        if ($isOthers) {
            return new Progress($incident, [self::byHand($at, "{$event->name} cannot{$how}; somebody else has it in hand")]);
        }
        $free = $incident->status === IncidentStatus::Acknowledged ? $incident->handedBack() : $incident;
        $hastened = $this->climb->hastened($free, $at);
        if ($hastened === null) {
            return new Progress($free, [self::byHand($at, "{$event->name} cannot{$how}; there is no further rung")]);
        }
        $climbed = $this->climb->climbed($hastened, $at);
        $said = self::byHand($at, "{$event->name} cannot{$how}: the next rung is climbed at once");

        return new Progress($climbed->state, [$said, ...$climbed->decisions]);
    }

    private function resolve(IncidentState $incident, ResolvedByHand $event, Instant $at): Progress
    {
        $up = $incident->up();
        $state = $incident;
        foreach ($up as $key => $alert) {
            $state = $state->withAlert($key, $alert->ended($at, null));
        }
        $left = match (count($up)) {
            0 => '',
            1 => ' while 1 alert was still raised; a new raise opens a new incident',
            default => ' while ' . count($up) . ' alerts were still raised; a new raise opens a new incident',
        };

        return new Progress($state->over($at), [
            self::byHand($at, "{$event->name} resolved{$left}"),
            ...$this->telling->over($incident, MessageKind::Recovered, $at),
            self::withdrawn(),
        ]);
    }

    private function taken(IncidentState $incident, Taken $event, Instant $at): Progress
    {
        $asked = $this->askedFor($incident, $event);

        return new Progress($incident, [
            new Line(TrailKind::Told, $at, $event->words, $event->onceKey),
            new WithdrawOtherWays($event->kind, $event->round, $event->person, $event->way, count($asked) > 1 ? $asked : []),
        ]);
    }

    /** @return list<string> the ways by which somebody was to be told, all at once */
    private function askedFor(IncidentState $incident, Taken $event): array
    {
        $step = $event->kind === MessageKind::Raised ? $this->pathOf($incident)->ladder->steps[Rung::numberOf($event->round) - 1] ?? null : null;

        return $this->configuration->waysTo($event->person, $step->by ?? [], $incident->severity);
    }

    /** What one way does not take goes by the next one at once, as long as it is still to be told; the former one is tried on. */
    private function failOver(IncidentState $incident, NotTaken $event, Instant $at): Progress
    {
        $decisions = $event->words === '' ? [] : [new Line(TrailKind::Failed, $at, $event->words, $event->onceKey)];
        $isStillTold = !$event->kind->isCopy() && $this->overtaken($incident, $event->kind) === null;
        $next = $isStillTold ? $this->configuration->wayAfter($event->way) : null;
        if ($next !== null) {
            $decisions[] = new Tell($event->kind, $event->round, $event->person, $next, $at);
        }

        return new Progress($incident, $decisions);
    }

    private function pathOf(IncidentState $incident): Path
    {
        return $this->configuration->pathNamed($incident->path);
    }

    private static function grouped(AlertRaised $event, Instant $at): GroupedAlert
    {
        return new GroupedAlert($event->severity, $at, $event->about);
    }

    private static function withdrawn(): Withdraw
    {
        return new Withdraw('the incident was over before this was sent');
    }

    /** @return list<Line> */
    private static function nobodyHeard(IncidentState $incident, Instant $at): array
    {
        $when = $incident->hushedUntil === null ? 'before anybody was reached' : 'while all of it was muted';

        return $incident->lookedBack || $incident->told !== [] || $incident->heldBy !== null
            ? []
            : [new Line(TrailKind::HeldBack, $at, "nobody was told: it was over {$when}")];
    }

    /** @return list<Line> */
    private static function began(AlertRaised $event): array
    {
        return $event->onset === null ? [] : [self::line($event->onset, $event->began)];
    }

    private static function line(Instant $at, string $words): Line
    {
        return new Line(TrailKind::Alert, $at, $words);
    }

    private static function byHand(Instant $at, string $words): Line
    {
        return new Line(TrailKind::Person, $at, $words);
    }
}

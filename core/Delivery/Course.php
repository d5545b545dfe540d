<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Decision\Withdraw;
use Olivine\Core\Delivery\Decision\WithdrawOtherWays;
use Olivine\Core\Delivery\Event\Acknowledged;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Delivery\Event\HandedBack;
use Olivine\Core\Delivery\Event\NotTaken;
use Olivine\Core\Delivery\Event\ResolvedByHand;
use Olivine\Core\Delivery\Event\Taken;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
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
    public function __construct(private Configuration $configuration)
    {
    }

    /** @param IncidentState|null $incident that the event is about; null where it opens one */
    public function step(?IncidentState $incident, Event $event, Instant $at): Progress
    {
        if ($event instanceof AlertRaised) {
            return $incident === null || $incident->isOver() ? $this->open($event, $at) : $this->join($incident, $event, $at);
        }
        if ($incident === null || ($incident->isOver() && !$event instanceof Taken && !$event instanceof NotTaken)) {
            throw new \LogicException('What is over has no course any more');
        }

        return match (true) {
            $event instanceof Taken => self::taken($incident, $event, $at),
            $event instanceof NotTaken => $this->failOver($incident, $event, $at),
            $event instanceof AlertTurned => $this->turn($incident, $event, $at),
            $event instanceof AlertEnded => $this->end($incident, $event, $at),
            $event instanceof Acknowledged => $this->acknowledge($incident, $event, $at),
            $event instanceof HandedBack => $this->handBack($incident, $event, $at),
            $event instanceof ResolvedByHand => $this->resolve($incident, $event, $at),
            $event instanceof TimePassed => $this->climb($incident, $at),
            default => throw new \LogicException('No course for ' . $event::class),
        };
    }

    /**
     * When time alone does something to it: the next rung, or when nobody has it in hand any more.
     *
     * @param Instant|null $after what was due until then was tried; a rung that reached nobody stays due, and others come
     */
    public function nextAt(IncidentState $incident, ?Instant $after = null): ?Instant
    {
        $due = $incident->status === IncidentStatus::Acknowledged
            ? array_filter([$incident->heldUntil])
            : array_map(static fn(Rung $rung): Instant => $rung->dueAt, $this->rungsLeft($incident));

        return array_find($due, static fn(Instant $at): bool => $after === null || $at->isAfter($after));
    }

    /**
     * The next to be climbed that reaches somebody; of what somebody has in hand for a time the first one after that.
     *
     * @return array{Rung, Instant, non-empty-list<int>}|null with when, and whom it would reach then
     */
    public function nextRung(IncidentState $incident, Instant $now): ?array
    {
        $until = $incident->status === IncidentStatus::Acknowledged ? $incident->heldUntil : null;
        foreach ($this->rungsLeft($until === null ? $incident : $incident->climbedAnew($until)) as $rung) {
            $at = $rung->dueAt->later($now);
            $people = $this->reached($rung, $at);
            if ($people !== []) {
                return [$rung, $at, $people];
            }
        }

        return null;
    }

    /** @return list<int> whom a rung reaches at an instant */
    private function reached(Rung $rung, Instant $at): array
    {
        return $this->configuration->reached($rung->who, $at);
    }

    /** Where the incident of an alert is looked for. */
    public function placeOf(AlertRaised $event, Instant $at): IncidentPlace
    {
        $path = $this->configuration->answering($event->about, $at);

        return new IncidentPlace($path->name, $path->group($event->about));
    }

    /**
     * What was decided may be overtaken by what happened since: asked when a message is about to leave, of the incident as it
     * stands then.
     *
     * @return string|null why it is told no more; null where it is
     */
    public static function overtaken(IncidentState $incident, MessageKind $kind): ?string
    {
        return match (true) {
            $kind === MessageKind::Recovered || $kind === MessageKind::Lost => $incident->isOver() ? null : 'it came up again before this was sent',
            $incident->isOver() => 'the incident was over before this was sent',
            $kind === MessageKind::Raised && $incident->status === IncidentStatus::Acknowledged => 'somebody had it in hand before this was sent',
            default => null,
        };
    }

    private function open(AlertRaised $event, Instant $at): Progress
    {
        $path = $this->configuration->answering($event->about, $at);
        $group = $path->group($event->about);
        $state = new IncidentState($path->name, $group, $event->title, $event->severity, $at, $this->configuration->looksBack);
        $gather = $path->gather->words();
        $decisions = [
            ...self::began($event),
            self::line($at, $event->words),
            $this->configuration->looksBack
                ? new Line(TrailKind::HeldBack, $at, 'found by replaying recorded readings: nobody was told')
                : self::line($at, "gathers alerts of {$group} for {$gather} before anyone is told"),
        ];

        return new Progress($state->withAlert($event->key, new GroupedAlert($event->severity, $at)), $decisions);
    }

    private function join(IncidentState $incident, AlertRaised $event, Instant $at): Progress
    {
        $state = $incident->withAlert($event->key, new GroupedAlert($event->severity, $at));
        $same = $this->configuration->pathNamed($incident->path)->sameness();
        $said = [...self::began($event), self::line($at, "{$event->words}{$event->beside}; {$same}, so the same incident")];

        return $this->graver($state, $event->severity, $event->title, $said, $at);
    }

    private function turn(IncidentState $incident, AlertTurned $event, Instant $at): Progress
    {
        $said = [self::line($at, $event->words)];
        $alert = $incident->alerts[$event->key] ?? null;
        if ($alert === null || $event->severity?->isWorseThan($alert->severity) !== true) {
            return new Progress($incident, $said);
        }

        return $this->graver($incident->withAlert($event->key, $alert->as($event->severity)), $event->severity, $event->title, $said, $at);
    }

    /**
     * An incident is called after the gravest of its alerts; when that is graver than before, whoever knows of it is told.
     *
     * @param list<Decision> $said
     */
    private function graver(IncidentState $incident, Severity $severity, string $title, array $said, Instant $at): Progress
    {
        if (!$severity->isWorseThan($incident->severity)) {
            return new Progress($incident, $said);
        }
        $state = $incident->called($title, $severity);

        return new Progress($state, [
            ...$said,
            self::line($at, "the incident is now {$severity->value}: {$title}"),
            ...$this->tellAll($state, MessageKind::Worse, $severity->rank(), $at),
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
        $told = $this->tellAll($incident, $isLost ? MessageKind::Lost : MessageKind::Recovered, 1, $at);

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

    private function handBack(IncidentState $incident, HandedBack $event, Instant $at): Progress
    {
        return new Progress($incident->handedBack(), [self::byHand($at, "{$event->name} took the acknowledgement back; the ladder goes on")]);
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
            ...$this->tellAll($incident, MessageKind::Recovered, 1, $at),
            self::withdrawn(),
        ]);
    }

    private static function taken(IncidentState $incident, Taken $event, Instant $at): Progress
    {
        return new Progress($incident, [
            new Line(TrailKind::Told, $at, $event->words, $event->onceKey),
            new WithdrawOtherWays($event->kind, $event->round, $event->person, $event->way),
        ]);
    }

    /** What one way does not take goes by the next one at once, as long as it is still to be told; the former one is tried on. */
    private function failOver(IncidentState $incident, NotTaken $event, Instant $at): Progress
    {
        $decisions = $event->words === '' ? [] : [new Line(TrailKind::Failed, $at, $event->words, $event->onceKey)];
        $next = self::overtaken($incident, $event->kind) === null ? $this->configuration->wayAfter($event->way) : null;
        if ($next !== null) {
            $decisions[] = new Tell($event->kind, $event->round, $event->person, $next, $at);
        }

        return new Progress($incident, $decisions);
    }

    /** A rung that came due while nothing ran goes to who is on call now, not to who was then. */
    private function climb(IncidentState $incident, Instant $at): Progress
    {
        [$state, $decisions] = $this->letGo($incident, $at);
        $fallsThrough = false;
        foreach ($this->rungs($state) as $rung) {
            if (in_array($rung->round(), $incident->climbed, true)) {
                $fallsThrough = false;

                continue;
            }
            if ($rung->dueAt->isAfter($at) && !$fallsThrough) {
                break;
            }
            $people = $this->reached($rung, $at);
            $fallsThrough = $people === [];
            if ($fallsThrough) {
                $decisions[] = $this->emptyRung($rung, $at);
            }
            foreach ($people as $person) {
                $decisions[] = new Tell(MessageKind::Raised, $rung->round(), $person, $this->configuration->ways[0], $rung->dueAt->earlier($at));
                $state = $state->climbedTo($rung->round());
            }
        }

        return new Progress($state, $decisions);
    }

    /** It is said once, and the next rung is climbed at once. */
    private function emptyRung(Rung $rung, Instant $at): Line
    {
        $who = implode(' and ', array_map(static fn(Who $one): string => $one->words(), $rung->who));
        $why = $this->configuration->rotation === null ? 'no one takes shifts; give people a place in the rota' : "{$who} is nobody";

        return new Line(TrailKind::Failed, $rung->dueAt->earlier($at), Rung::words($rung->round()) . " reaches nobody: {$why}", "rung {$rung->round()}");
    }

    /**
     * What somebody took for a time, and is not over then, is in nobody's hands any more.
     *
     * @return array{IncidentState, list<Decision>}
     */
    private function letGo(IncidentState $incident, Instant $at): array
    {
        $until = $incident->status === IncidentStatus::Acknowledged ? $incident->heldUntil : null;
        if ($until === null || $until->isAfter($at)) {
            return [$incident, []];
        }

        return [$incident->climbedAnew($at), [self::line($until, 'the time for which it was acknowledged is over, and it is not: the ladder begins anew')]];
    }

    /** @return list<Rung> that are still to be climbed */
    private function rungsLeft(IncidentState $incident): array
    {
        return array_values(
            array_filter($this->rungs($incident), static fn(Rung $rung): bool => !in_array($rung->round(), $incident->climbed, true)),
        );
    }

    /** @return list<Rung> of its ladder, while nobody has it in hand */
    private function rungs(IncidentState $incident): array
    {
        if ($incident->lookedBack || $incident->status !== IncidentStatus::Open) {
            return [];
        }
        $path = $this->configuration->pathNamed($incident->path);

        return $path->ladder->from($incident->lapFrom ?? $incident->openedAt->plus($path->gather), $incident->lap);
    }

    /**
     * Whoever was told, and whoever has it in hand, once each.
     *
     * @return list<Tell>
     */
    private function tellAll(IncidentState $incident, MessageKind $kind, int $round, Instant $at): array
    {
        if ($incident->lookedBack) {
            return [];
        }
        $people = $incident->heldBy === null ? $incident->told : [...$incident->told, $incident->heldBy];

        return array_map(
            fn(int $person): Tell => new Tell($kind, $round, $person, $this->configuration->ways[0], $at),
            array_values(array_unique($people)),
        );
    }

    private static function withdrawn(): Withdraw
    {
        return new Withdraw('the incident was over before this was sent');
    }

    /** @return list<Line> */
    private static function nobodyHeard(IncidentState $incident, Instant $at): array
    {
        return $incident->lookedBack || $incident->told !== [] || $incident->heldBy !== null
            ? []
            : [new Line(TrailKind::HeldBack, $at, 'nobody was told: it was over before anybody was reached')];
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

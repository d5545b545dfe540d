<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\SetAside;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\RuleProblem;
use Olivine\App\Rule\RuleProblems;
use Olivine\App\Rule\StoredTransition;
use Olivine\App\Rule\Transitions;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Psr\Log\LoggerInterface;

/**
 * Makes incidents out of transitions: alerts of one service that are up at the same time are one incident. Taking a
 * transition and all it changes is one transaction, so each counts once whenever a process ends.
 */
final readonly class IncidentBook
{
    private const TAKEN_A_ROUND = 200;
    private const OWN_SERVICE = 'olivine';
    private const LONGEST_TITLE = 500;
    private const LONGEST_SERVICE = 120;

    public function __construct(
        private EntityManagerInterface $entities,
        private Database $database,
        private IncidentRepository $incidents,
        private IncidentAlertRepository $alerts,
        private Transitions $transitions,
        private Trail $trail,
        private DeliveryPlan $plan,
        private RaisingRules $rules,
        private RuleProblems $problems,
        private SetAside $aside,
        private LoggerInterface $logger,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @return int how many transitions were taken */
    public function takeTransitions(TakeMode $mode): int
    {
        $untaken = $this->transitions->untaken(self::TAKEN_A_ROUND);
        foreach ($untaken as $id) {
            $this->each("transition {$id}", fn() => $this->take($id, $mode), fn() => $this->transitions->take($id));
        }
        // What was kept at hand for these is old by the next round.
        $this->entities->clear();

        return count($untaken);
    }

    /** Whoever is on call hears of a rule that could not be evaluated for so long, and of what was told so nobody stays in doubt when it is over. */
    public function takeProblems(Instant $now, Duration $toldAfter): void
    {
        foreach ($this->problems->untold($now->minus($toldAfter)) as $problem) {
            $this->each(
                "problem of rule {$problem->ruleId}",
                fn() => $this->database->transaction(fn() => $this->tellProblem($problem, $now)),
            );
        }
        foreach ($this->problems->toldAndOver() as $ruleId) {
            $this->each(
                "problem of rule {$ruleId}",
                fn() => $this->database->transaction(fn() => $this->endProblem($ruleId, $now)),
            );
        }
        $this->entities->clear();
    }

    /**
     * One that cannot be handled is set aside with its reason; the others are handled all the same.
     *
     * @param callable(): mixed        $handle
     * @param (callable(): mixed)|null $pass   so that it does not come up again
     */
    private function each(string $subject, callable $handle, ?callable $pass = null): void
    {
        try {
            $handle();
        } catch (\Throwable $error) {
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            $this->logger->error('The {subject} was set aside: {exception}', ['subject' => $subject, 'exception' => $error]);
            $this->database->recover();
            $this->aside->put('dispatcher', $subject, $error->getMessage(), $this->clock->now());
            if ($pass !== null) {
                $pass();
            }
        }
    }

    private function take(int $id, TakeMode $mode): void
    {
        $happened = $this->transitions->read($id);
        $this->database->transaction(function () use ($happened, $mode): void {
            $isKnown = $this->entities->find(Rule::class, $happened->ruleId) !== null;
            $by = $this->rules->of($happened->ruleId, $happened->revisionId);
            if ($this->transitions->take($happened->id) && $isKnown && $by !== null) {
                $this->apply($happened, $by, $mode);
                $this->entities->flush();
            }
        });
    }

    private function tellProblem(RuleProblem $problem, Instant $now): void
    {
        if (!$this->problems->markTold($problem->ruleId, $now)) {
            return;
        }
        $title = self::fitting("The rule {$problem->rule} cannot be evaluated: {$problem->message}");
        $incident = $this->incidents->heldOpenOf(self::OWN_SERVICE);
        $isNew = $incident === null;
        if ($incident === null) {
            $incident = new Incident(self::OWN_SERVICE, $title, Severity::Major, $now, false);
            $this->entities->persist($incident);
        }
        $this->entities->flush();
        $alert = $this->alerts->in($incident->id(), $problem->ruleId, IncidentAlert::BROKEN);
        $alert?->brokenAgain($problem->since, $now, $problem->message);
        $this->entities->persist(
            $alert ?? IncidentAlert::broken($incident->id(), $problem->ruleId, $problem->since, $now, $problem->message),
        );
        $this->entities->flush();
        $words = sprintf('%s, since %s', $title, $now->since($problem->since)->words());
        $this->trail->add(
            $incident->id(),
            $now,
            TrailKind::Alert,
            $isNew ? $words : "{$words}; the same incident, as it is Olivine's own matter",
        );
    }

    private function endProblem(int $ruleId, Instant $now): void
    {
        if (!$this->problems->drop($ruleId)) {
            return;
        }
        foreach ($this->alerts->broken($ruleId) as $alert) {
            $incident = $this->incidents->held($alert->incidentId);
            $rule = $this->entities->find(Rule::class, $ruleId);
            $this->trail->add(
                $incident->id(),
                $now,
                TrailKind::Alert,
                $rule === null
                    ? 'the rule is not there any more'
                    : ($rule->enabled
                        ? "the rule {$rule->name} is evaluated again"
                        : "the rule {$rule->name} was switched off"),
            );
            $this->endAlert($incident, $alert, $now, Phase::Calm, TakeMode::Live);
        }
        $this->entities->flush();
    }

    /** @throws BadRule */
    private function apply(StoredTransition $happened, RaisedBy $by, TakeMode $mode): void
    {
        $to = $happened->to;
        $open = $this->openAlert($happened->ruleId, $happened->labelsHash);
        if ($open === null) {
            $isBlind = $to === Phase::Blind && $happened->severity !== null;
            if ($to === Phase::Raised || $isBlind) {
                $this->raise($happened, $by, $mode, $isBlind);
            }

            return;
        }
        $to === Phase::Calm || $to->isOver()
            ? $this->end($happened, $by, $open, $mode)
            : $this->follow($happened, $by, $open, $mode);
    }

    private function raise(StoredTransition $happened, RaisedBy $by, TakeMode $mode, bool $isBlind): void
    {
        $at = $happened->at;
        $labels = $happened->labels;
        $severity = $happened->severity ?? Severity::Minor;
        $value = $isBlind ? null : $happened->value;
        $title = $isBlind ? $by->blind($labels) : $by->raised($labels);
        $service = self::fitting(self::serviceOf($by->rule->service, $labels), self::LONGEST_SERVICE);
        $incident = $this->incidents->heldOpenOf($service);
        $isNew = $incident === null;
        if ($incident === null) {
            $incident = new Incident($service, self::fitting($title), $severity, $at, $mode === TakeMode::Replay);
            $this->entities->persist($incident);
            $this->entities->flush();
        }
        $alert = $this->alerts->in($incident->id(), $happened->ruleId, $happened->labelsHash);
        $alert?->raiseAgain($at, $severity, $by->revisionId);
        $this->entities->persist(
            $alert ??
                IncidentAlert::raised(
                    $incident->id(),
                    $happened->ruleId,
                    $by->revisionId,
                    $happened->labelsHash,
                    $labels,
                    $happened->onset,
                    $at,
                    $severity,
                    $value,
                    $happened->numbers,
                    $isBlind,
                ),
        );
        $this->entities->flush();
        if (!$isBlind && $happened->onset->isBefore($at)) {
            $this->tell($incident, $happened->onset, $by->began($labels));
        }
        $readings = $value === null ? ', no readings' : ' at ' . $by->value($value);
        $same = $isNew ? '' : ": {$title}; same service, so the same incident";
        $who = $happened->why === '' || $isBlind ? '' : " ({$happened->why})";
        $this->tell($incident, $at, "raised as {$severity->value}{$readings}{$who}{$same}");
        if ($isNew) {
            $this->tellOfGathering($incident, $at, $mode);
        } elseif ($severity->isWorseThan($incident->severity)) {
            $this->worsen($incident, $severity, $title, $at, $mode);
        }
    }

    private function tellOfGathering(Incident $incident, Instant $at, TakeMode $mode): void
    {
        $mode === TakeMode::Live
            ? $this->tell(
                $incident,
                $at,
                "gathers alerts of {$incident->service} for " .
                    $this->plan->gather()->words() .
                    ' before anyone is told',
            )
            : $this->trail->add(
                $incident->id(),
                $at,
                TrailKind::HeldBack,
                'found by replaying recorded readings: nobody was told',
            );
    }

    /** What groups an alert into an incident. */
    public static function serviceOf(string $service, LabelSet $labels): string
    {
        return match (true) {
            $service !== '' => $service,
            $labels->get('service') !== '' => $labels->get('service'),
            default => 'no service',
        };
    }

    private function tell(Incident $incident, Instant $at, string $words): void
    {
        $this->trail->add($incident->id(), $at, TrailKind::Alert, $words);
    }

    /** The incident is called after the gravest of its alerts. */
    private function worsen(Incident $incident, Severity $severity, string $title, Instant $at, TakeMode $mode): void
    {
        $incident->severity = $severity;
        $incident->title = self::fitting($title);
        $this->trail->add($incident->id(), $at, TrailKind::Alert, "the incident is now {$severity->value}: {$incident->title}");
        if ($mode === TakeMode::Live && !$incident->replayed) {
            $this->plan->tellWorse($incident, $at);
        }
    }

    /** @throws BadRule */
    private function follow(StoredTransition $happened, RaisedBy $by, OpenAlert $open, TakeMode $mode): void
    {
        $at = $happened->at;
        $severity = $happened->severity;
        $isWorse = $happened->from === Phase::Raised && $happened->to === Phase::Raised;
        $where = $isWorse ? '' : ' (' . $by->name($happened->labels) . ')';
        $this->tell($open->incident, $at, self::followed($happened, $by, $open) . $where);
        if ($severity === null || !$severity->isWorseThan($open->alert->severity)) {
            return;
        }
        $open->alert->severity = $severity;
        if ($severity->isWorseThan($open->incident->severity)) {
            $title = $by->raised($happened->labels);
            $this->worsen($open->incident, $severity, $title, $at, $mode);
        }
    }

    /** @throws BadRule */
    private static function followed(StoredTransition $happened, RaisedBy $by, OpenAlert $open): string
    {
        $value = $by->value($happened->value ?? 0.0);

        return match (true) {
            $happened->to === Phase::Easing => sprintf(
                'back at %s, %s; clears if it lasts %s',
                $value,
                $by->conditionOf($happened->labels)->backWords($by->unit),
                $by->holding()->clearHold->words(),
            ),
            $happened->to === Phase::Blind => 'no readings any more; last known as raised',
            $happened->to !== Phase::Raised => "{$happened->from->value} → {$happened->to->value}",
            $happened->from === Phase::Easing => "past the clear limit again at {$value}, stays raised",
            $happened->from === Phase::Raised => self::graver($happened, $open) . ": {$happened->severity?->value} at {$value}",
            default => 'readings are back and past the limit',
        };
    }

    private static function graver(StoredTransition $happened, OpenAlert $open): string
    {
        return $happened->severity?->isWorseThan($open->alert->severity) === true ? 'worse' : 'less grave';
    }

    private function end(StoredTransition $happened, RaisedBy $by, OpenAlert $open, TakeMode $mode): void
    {
        $name = $by->name($happened->labels);
        $value = $happened->value === null ? '' : ' at ' . $by->value($happened->value);
        $lostAfter = $by->holding()->lostAfter->words();
        $this->tell(
            $open->incident,
            $happened->at,
            match ($happened->to) {
                Phase::Lost => "lost from sight: {$name} has brought no readings for {$lostAfter}; nobody knows how it is",
                Phase::Ended => "ended: {$name}; {$happened->why}",
                default => "cleared{$value}: {$name}",
            },
        );
        $this->endAlert($open->incident, $open->alert, $happened->at, $happened->to, $mode);
    }

    /** Where it was the last one of its incident, that is over too, and whoever was told hears how: cleared, or lost from sight. */
    private function endAlert(Incident $incident, IncidentAlert $alert, Instant $at, Phase $end, TakeMode $mode): void
    {
        $alert->end($at, $end);
        $this->entities->flush();
        $alerts = $this->alerts->of($incident->id());
        if (array_any($alerts, static fn(IncidentAlert $one): bool => $one->clearedAt === null)) {
            return;
        }
        $ends = array_unique(array_map(static fn(IncidentAlert $one): string => $one->ended, $alerts));
        $incident->status = IncidentStatus::Resolved;
        $incident->resolvedAt = $at;
        $isLost = in_array(Phase::Lost->value, $ends, true);
        $isQuiet = $ends === [Phase::Ended->value];
        $lasted = $at->since($incident->openedAt)->words();
        $this->trail->add(
            $incident->id(),
            $at,
            $isQuiet ? TrailKind::HeldBack : TrailKind::Alert,
            match (true) {
                $isLost => "over without an end, after {$lasted}: sight of some of it was lost",
                $isQuiet => "over after {$lasted}: all it looked at was paused, removed or is looked at no more; nobody is told",
                default => "resolved: every alert cleared, after {$lasted}",
            },
        );
        if ($mode === TakeMode::Live && !$incident->replayed && !$isQuiet) {
            $isLost ? $this->plan->tellLost($incident, $at) : $this->plan->tellRecovery($incident, $at);
        }
    }

    /** Where somebody resolved its incident in this moment, its alerts went with it. */
    private function openAlert(int $ruleId, string $hash): ?OpenAlert
    {
        $alert = $this->alerts->raised($ruleId, $hash);
        $incident = $alert === null ? null : $this->incidents->held($alert->incidentId);

        return $alert === null || $incident === null || $incident->status === IncidentStatus::Resolved
            ? null
            : new OpenAlert($incident, $alert);
    }

    private static function fitting(string $text, int $longest = self::LONGEST_TITLE): string
    {
        return mb_substr($text, 0, $longest);
    }
}

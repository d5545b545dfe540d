<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\SetAside;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\RuleProblem;
use Olivine\App\Rule\RuleProblems;
use Olivine\App\Rule\StoredTransition;
use Olivine\App\Rule\Transitions;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
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
    private const TAKEN_TOGETHER = 500;
    private const OWN_SERVICE = 'olivine';

    public function __construct(
        private EntityManagerInterface $entities,
        private Database $database,
        private IncidentAlertRepository $alerts,
        private Transitions $transitions,
        private Courses $courses,
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
        $untaken = $this->transitions->untaken(self::TAKEN_TOGETHER);
        if ($untaken !== [] && !$this->takeTogether($untaken, $mode)) {
            foreach ($untaken as $id) {
                $this->each("transition {$id}", fn() => $this->take([$id], $mode), fn() => $this->transitions->take($id));
            }
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

    /**
     * @param list<int> $ids
     *
     * @return bool whether all of them could be taken in one transaction; if not, none was
     */
    private function takeTogether(array $ids, TakeMode $mode): bool
    {
        try {
            $this->take($ids, $mode);

            return true;
        } catch (\Throwable $error) {
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            $this->database->recover();
            $this->entities->clear();

            return false;
        }
    }

    /** @param list<int> $ids in the order in which they happened */
    private function take(array $ids, TakeMode $mode): void
    {
        $this->database->transaction(function () use ($ids, $mode): void {
            // Tried again, it begins with what is kept.
            $this->entities->clear();
            $courses = $this->courses->begin($mode);
            foreach ($ids as $id) {
                $happened = $this->transitions->read($id);
                $isKnown = $this->entities->find(Rule::class, $happened->ruleId) !== null;
                $by = $this->rules->of($happened->ruleId, $happened->revisionId);
                if ($this->transitions->take($happened->id) && $isKnown && $by !== null) {
                    $this->apply($happened, $by, $courses);
                }
            }
            $this->entities->flush();
        });
    }

    /** @throws BadRule */
    private function apply(StoredTransition $happened, RaisedBy $by, CoursesUnderWay $courses): void
    {
        $one = $courses->ofAlert($happened->ruleId, $happened->labelsHash);
        if ($one === null) {
            if (AlertEvents::raises($happened)) {
                $this->raise($happened, $by, $courses);
            }

            return;
        }
        $before = $one->state->alerts[IncidentStates::key($happened->ruleId, $happened->labelsHash)]->severity;
        $event = $happened->to === Phase::Calm || $happened->to->isOver()
            ? AlertEvents::ended($happened, $by)
            : AlertEvents::turned($happened, $by, $before);
        $courses->step($one, $event, $happened->at);
    }

    private function raise(StoredTransition $happened, RaisedBy $by, CoursesUnderWay $courses): void
    {
        $event = AlertEvents::raised($happened, $by);
        $one = $this->raisedIn($courses, $event, $happened->at);
        $alert = $one->alert($event->key);
        if ($alert !== null) {
            $alert->raiseAgain($happened->at, $event->severity, $by->revisionId);
            $alert->matchedBy($event->about);

            return;
        }
        $isBlind = AlertEvents::isBlind($happened);
        $alert = IncidentAlert::raised(
            $one->incident->id(),
            $happened->ruleId,
            $by->revisionId,
            $happened->labelsHash,
            $happened->labels,
            $happened->onset,
            $happened->at,
            $event->severity,
            $isBlind ? null : $happened->value,
            $happened->numbers,
            $isBlind,
        );
        $alert->matchedBy($event->about);
        $this->entities->persist($alert);
        $one->add($event->key, $alert);
    }

    /** The incident of its group, which it opens where there is none. */
    private function raisedIn(CoursesUnderWay $courses, AlertRaised $event, Instant $at): CourseUnderWay
    {
        $one = $courses->joinedBy($event, $at);
        if ($one === null) {
            return $courses->open($event, $at);
        }
        $courses->step($one, $event, $at);

        return $one;
    }

    private function tellProblem(RuleProblem $problem, Instant $now): void
    {
        if (!$this->problems->markTold($problem->ruleId, $now)) {
            return;
        }
        $title = AlertEvents::title("The rule {$problem->rule} cannot be evaluated: {$problem->message}");
        $event = new AlertRaised(
            IncidentStates::key($problem->ruleId, IncidentAlert::BROKEN),
            LabelSet::of(['service' => self::OWN_SERVICE, 'severity' => Severity::Major->value, 'rule' => $problem->rule]),
            Severity::Major,
            $title,
            sprintf('%s, since %s', $title, $now->since($problem->since)->words()),
            "; the same incident, as it is Olivine's own matter",
        );
        $one = $this->raisedIn($this->courses->begin(), $event, $now);
        $alert = $one->alert($event->key);
        $alert?->brokenAgain($problem->since, $now, $problem->message);
        $alert ??= IncidentAlert::broken($one->incident->id(), $problem->ruleId, $problem->since, $now, $problem->message);
        $alert->matchedBy($event->about);
        $this->entities->persist($alert);
        $this->entities->flush();
    }

    private function endProblem(int $ruleId, Instant $now): void
    {
        if (!$this->problems->drop($ruleId)) {
            return;
        }
        $rule = $this->entities->find(Rule::class, $ruleId);
        $words = match (true) {
            $rule === null => 'the rule is not there any more',
            $rule->enabled => "the rule {$rule->name} is evaluated again",
            default => "the rule {$rule->name} was switched off",
        };
        $courses = $this->courses->begin();
        foreach ($this->alerts->broken($ruleId) as $_) {
            $one = $courses->ofAlert($ruleId, IncidentAlert::BROKEN);
            if ($one !== null) {
                $courses->step($one, new AlertEnded(IncidentStates::key($ruleId, IncidentAlert::BROKEN), Phase::Calm, $words), $now);
            }
        }
        $this->entities->flush();
    }
}

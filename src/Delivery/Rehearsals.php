<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Definition\RehearsalFields;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Delivery\Entity\Rehearsal;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\Repository\RehearsalRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\SetAside;
use Olivine\App\Platform\Settings;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Plays an alert with people who agreed: the real course, by the real channels, up to the answer and the recovery. Nobody else is told,
 * every message says what it is, and no figure counts it.
 */
final readonly class Rehearsals
{
    private const MOST_AT_ONCE = 20;
    private const LONGEST_MINUTES = 10;
    /** Whoever agrees is not called at some night weeks later. */
    private const AGREED_FOR_HOURS = 24;
    /** Whoever answered may see that it was taken before it is over. */
    private const OVER_AFTER_SECONDS = 5;

    public function __construct(
        private EntityManagerInterface $entities,
        private Database $database,
        private RehearsalRepository $rehearsals,
        private IncidentRepository $incidents,
        private RuleRepository $rules,
        private RaisingRules $raising,
        private PersonRepository $people,
        private Courses $courses,
        private WhoHears $who,
        private Letters $letters,
        private Settings $settings,
        private Audit $audit,
        private SetAside $aside,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * Whoever asks agrees by asking; the others are written to.
     *
     * @throws Problem naming the field; 409 where there are too many
     */
    public function ask(RehearsalFields $fields, Person $by): Rehearsal
    {
        if ($this->rehearsals->notOver() >= self::MOST_AT_ONCE) {
            throw new Problem(409, 'There are ' . self::MOST_AT_ONCE . ' rehearsals that are not over; end one first');
        }
        $rule = $this->rules->find($fields->rule) ?? throw Problem::field('rule', "rule: there is no rule {$fields->rule}");
        $now = $this->clock->now();
        $people = [];
        foreach ($fields->people as $id) {
            $person = $this->people->find($id) ?? throw Problem::field('people', "people: there is nobody with the number {$id}");
            if (!$person->mayAct() || $person->role === Role::Viewer) {
                throw Problem::field('people', "people: {$person->name} may not answer incidents; choose somebody who may");
            }
            $people[$id] = $id === $by->id() ? $now->ms : null;
        }
        $name = mb_substr($rule->name, 0, Rehearsal::RULE_LENGTH);
        $rehearsal = new Rehearsal($rule->id(), $name, $fields->labels, $fields->severity, $people, $by->id(), $now);
        $this->entities->persist($rehearsal);
        $this->entities->flush();
        foreach (array_keys(array_filter($people, is_null(...))) as $id) {
            $this->letters->post(
                $id,
                "{$by->name} asks you to a rehearsal",
                "{$by->name} wants to play the alert of \"{$name}\", to see whether it reaches you.\n\n"
                    . "Nothing is wrong. If you agree you are told by the ways by which you would be, and answer as you would:\n"
                    . "{$this->settings->publicUrl()}/delivery/rehearse\n",
                "rehearsal.{$rehearsal->id()}.{$id}",
            );
        }
        $this->audit->record('asked for', "rehearsal {$rehearsal->id()}", null, ['rule' => $name, 'people' => array_keys($people)], $by);

        return $rehearsal;
    }

    /** @throws Problem 403 where nobody asked them; 404; 409 where it has begun */
    public function agree(int $id, Person $person): void
    {
        $rehearsal = $this->rehearsals->held($id);
        if (!array_key_exists($person->id(), $rehearsal->people)) {
            throw new Problem(403, "Nobody asked you to rehearsal {$id}");
        }
        if ($rehearsal->begunAt !== null || $rehearsal->isOver()) {
            throw new Problem(409, $rehearsal->isOver() ? "Rehearsal {$id} is over" : "Rehearsal {$id} has begun without you");
        }
        $rehearsal->people = array_replace($rehearsal->people, [$person->id() => $this->clock->now()->ms]);
        $this->entities->flush();
        $this->audit->record('agreed to', "rehearsal {$id}", null, null, $person);
    }

    /** @throws Problem 404; 409 where it has begun, or reaches nobody who agreed */
    public function begin(int $id, Person $by): void
    {
        $rehearsal = $this->rehearsals->held($id);
        if ($rehearsal->begunAt !== null || $rehearsal->isOver()) {
            throw new Problem(409, $rehearsal->isOver() ? "Rehearsal {$id} is over" : "Rehearsal {$id} has begun already");
        }
        $rule = $this->rules->find($rehearsal->ruleId);
        $raised = $rule === null ? null : $this->raising->inService($rule);
        if ($raised === null) {
            throw new Problem(409, "The rule {$rehearsal->rule} is gone, or cannot be read; choose another one");
        }
        $now = $this->clock->now();
        $labels = LabelSet::of($rehearsal->labels);
        $about = AlertEvents::about($raised->rule, $labels, $rehearsal->severity);
        $this->refuseNobody($rehearsal, $about, $raised->rule->owner, $now);
        $key = IncidentStates::key($rehearsal->ruleId, $rehearsal->labelsHash());
        $title = AlertEvents::title($raised->raised($labels));
        $words = "rehearsed by {$by->name}: as if it were raised as {$rehearsal->severity->value}; nothing is wrong";
        $one = $this->courses->rehearse($rehearsal->agreed())->open(new AlertRaised($key, $about, $rehearsal->severity, $title, $words), $now);
        $alert = IncidentAlert::raised(
            $one->incident->id(),
            $rehearsal->ruleId,
            $raised->revisionId,
            $rehearsal->labelsHash(),
            $labels,
            $now,
            $now,
            $rehearsal->severity,
            null,
            [],
            false,
        );
        $alert->matchedBy($about);
        $this->entities->persist($alert);
        $rehearsal->incidentId = $one->incident->id();
        $rehearsal->begunAt = $now;
        $this->entities->flush();
        $this->audit->record('began', "rehearsal {$id}", null, ['incident' => $rehearsal->incidentId, 'people' => $rehearsal->agreed()], $by);
    }

    /** @throws Problem 404; 409 where it is over */
    public function end(int $id, Person $by): void
    {
        $rehearsal = $this->rehearsals->held($id);
        if ($rehearsal->isOver()) {
            throw new Problem(409, "Rehearsal {$id} is over already");
        }
        $this->over($rehearsal, $rehearsal->begunAt === null ? 'called off' : 'ended by hand', $this->clock->now());
        $this->audit->record('ended', "rehearsal {$id}", null, ['how' => $rehearsal->endedHow], $by);
    }

    /** What is answered recovers soon; what nobody answers is over in a while; who agreed, did so for a day. */
    public function watch(Instant $now): void
    {
        foreach ($this->rehearsals->lookedAt($now->minus(Duration::ofHours(self::AGREED_FOR_HOURS))) as $id) {
            $this->aside->unless('dispatcher', "rehearsal {$id}", fn() => $this->database->transaction(fn() => $this->look($id, $now)));
        }
    }

    /** @throws Problem 404 where it is gone */
    private function look(int $id, Instant $now): void
    {
        $rehearsal = $this->rehearsals->held($id);
        $incident = $rehearsal->incidentId === null ? null : $this->incidents->find($rehearsal->incidentId);
        if ($rehearsal->isOver()) {
            return;
        }
        if ($rehearsal->begunAt === null) {
            $this->over($rehearsal, 'nobody began it within a day', $now);

            return;
        }
        if ($incident !== null) {
            $this->entities->refresh($incident);
        }
        $overAfter = Duration::ofSeconds(self::OVER_AFTER_SECONDS);
        $isAnswered = $incident?->acknowledgedAt !== null && $incident->status === IncidentStatus::Acknowledged
            && $now->since($incident->acknowledgedAt)->isAtLeast($overAfter);
        match (true) {
            $incident === null || $incident->status === IncidentStatus::Resolved => $this->over($rehearsal, 'resolved by hand', $now),
            $isAnswered => $this->over($rehearsal, 'answered', $now),
            $now->since($rehearsal->begunAt)->isLongerThan(Duration::ofMinutes(self::LONGEST_MINUTES)) => $this->over($rehearsal, 'nobody answered', $now),
            default => null,
        };
    }

    private function over(Rehearsal $rehearsal, string $how, Instant $now): void
    {
        $rehearsal->endedAt = $now;
        $rehearsal->endedHow = $how;
        $incident = $rehearsal->incidentId === null ? null : $this->incidents->find($rehearsal->incidentId);
        if ($incident !== null) {
            $courses = $this->courses->rehearse($rehearsal->agreed());
            $one = $courses->of($incident);
            if (!$one->state->isOver()) {
                $key = IncidentStates::key($rehearsal->ruleId, $rehearsal->labelsHash());
                $courses->step($one, new AlertEnded($key, Phase::Calm, "the rehearsal is over: {$how}"), $now);
            }
        }
        $this->entities->flush();
    }

    /** @throws Problem 409 where no rung of its ladder reaches somebody who agreed */
    private function refuseNobody(Rehearsal $rehearsal, LabelSet $about, string $owner, Instant $now): void
    {
        $configuration = $this->who->now()->rehearsing($rehearsal->agreed());
        $path = $configuration->answering($about, $now);
        foreach ($path->ladder->steps as $step) {
            if ($configuration->reached($step->who, $now, [$owner]) !== []) {
                return;
            }
        }

        throw new Problem(409, "Nobody who agreed is on the ladder of {$path->name} now; ask one of those whom it would tell");
    }
}

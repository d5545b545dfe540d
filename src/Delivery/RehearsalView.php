<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\PlayedAlert;
use Olivine\App\Delivery\Answer\PlayedRung;
use Olivine\App\Delivery\Answer\RehearsalChoices;
use Olivine\App\Delivery\Answer\RehearsalsPage;
use Olivine\App\Delivery\Answer\RehearsedPerson;
use Olivine\App\Delivery\Answer\RehearsedStep;
use Olivine\App\Delivery\Answer\ShownRehearsal;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\Rehearsal;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\Repository\RehearsalRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What may be rehearsed, and how rehearsals went: step by step, with the time that each took. */
final readonly class RehearsalView
{
    private const MOST_SHOWN = 20;
    private const MOST_CHOICES = 50;
    private const SECONDS = 3.0;

    public function __construct(
        private RehearsalRepository $rehearsals,
        private IncidentRepository $incidents,
        private DeliveryRepository $deliveries,
        private PersonRepository $people,
        private RaisingRules $raising,
        private Evaluator $evaluator,
        private WhoHears $who,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    public function page(Person $self): RehearsalsPage
    {
        $newest = $this->rehearsals->newest(self::MOST_SHOWN);
        $shown = array_map(fn(Rehearsal $one): ShownRehearsal => $this->shown($one, $self), $newest);
        $asked = count(array_filter($newest, static fn(Rehearsal $one): bool => self::waitsFor($one, $self)));
        $running = count(array_filter($newest, static fn(Rehearsal $one): bool => $one->isRunning()));
        $last = array_find($newest, static fn(Rehearsal $one): bool => $one->isOver() && $one->begunAt !== null);
        $words = match (true) {
            $asked > 0 => $asked === 1 ? 'You are asked to one rehearsal.' : "You are asked to {$asked} rehearsals.",
            $running > 0 => 'A rehearsal is under way.',
            $last === null => 'Nothing was rehearsed yet: nobody knows whether a message arrives at night.',
            default => "{$last->rule} was rehearsed last: " . $this->words($last, $this->incidentOf($last), $this->people->names()),
        };

        return new RehearsalsPage($words, $shown);
    }

    /**
     * @throws Problem 409 where the rule cannot be read; 422 where it cannot be worked out; 429
     */
    public function choices(Rule $rule): RehearsalChoices
    {
        $raised = $this->raising->inService($rule) ?? throw new Problem(409, "The rule {$rule->name} cannot be read");
        $now = $this->clock->now();
        try {
            $watched = Parser::parse($raised->rule->formula);
            $lines = $this->heavy->within(self::SECONDS, fn(): array => $this->linesAt($watched, $now));
        } catch (FormulaError $error) {
            throw new Problem(422, "The rule {$rule->name} cannot be worked out now: {$error->getMessage()}");
        }
        $configuration = $this->who->now();
        $names = $this->people->names();

        return new RehearsalChoices(array_map(
            fn(Line $line): PlayedAlert => $this->played($raised, $line, $configuration, $names, $now),
            array_slice($lines, 0, self::MOST_CHOICES),
        ));
    }

    /**
     * @return list<Line>
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function linesAt(Node $watched, Instant $at): array
    {
        return array_values($this->evaluator->range($watched, $at->ms, $at->ms, 1)->lines);
    }

    /** @param array<int, string> $names */
    private function played(RaisedBy $raised, Line $line, Configuration $configuration, array $names, Instant $now): PlayedAlert
    {
        $severity = $raised->conditionOf($line->labels)->severity();
        $path = $configuration->answering(AlertEvents::about($raised->rule, $line->labels, $severity), $now);
        $rungs = [];
        foreach ($path->ladder->steps as $i => $step) {
            foreach ($configuration->reached($step->who, $now, [$raised->rule->owner]) as $person) {
                $rungs[] = new PlayedRung($i + 1, $person, $names[$person] ?? '', $configuration->waysTo($person, $step->by, $severity));
            }
        }
        $value = $line->values[0] ?? null;

        $shown = $value === null ? 'no reading' : $raised->value($value);

        return new PlayedAlert($line->labels, $raised->name($line->labels), $shown, $severity, $path->name, $rungs);
    }

    public function shown(Rehearsal $rehearsal, Person $self): ShownRehearsal
    {
        $names = $this->people->names();
        $incident = $this->incidentOf($rehearsal);
        $people = [];
        foreach ($rehearsal->people as $id => $agreed) {
            $people[] = new RehearsedPerson($id, $names[$id] ?? 'somebody who is gone', $agreed !== null, $id === $self->id());
        }

        return new ShownRehearsal(
            id: $rehearsal->id(),
            ruleId: $rehearsal->ruleId,
            rule: $rehearsal->rule,
            labels: LabelSet::of($rehearsal->labels),
            severity: $rehearsal->severity,
            askedBy: $names[$rehearsal->askedBy] ?? 'somebody who is gone',
            askedAt: $rehearsal->askedAt,
            begunAt: $rehearsal->begunAt,
            endedAt: $rehearsal->endedAt,
            incident: $rehearsal->incidentId,
            words: $this->words($rehearsal, $incident, $names),
            people: $people,
            steps: $incident === null || $rehearsal->begunAt === null ? [] : $this->steps($rehearsal->begunAt, $incident, $names),
        );
    }

    private function incidentOf(Rehearsal $rehearsal): ?Incident
    {
        return $rehearsal->incidentId === null ? null : $this->incidents->find($rehearsal->incidentId);
    }

    private static function waitsFor(Rehearsal $rehearsal, Person $self): bool
    {
        $isAsked = array_key_exists($self->id(), $rehearsal->people) && $rehearsal->people[$self->id()] === null;

        return $isAsked && $rehearsal->begunAt === null && !$rehearsal->isOver();
    }

    /** @param array<int, string> $names */
    private function words(Rehearsal $rehearsal, ?Incident $incident, array $names): string
    {
        if ($rehearsal->begunAt === null) {
            $missing = count($rehearsal->people) - count($rehearsal->agreed());

            return match (true) {
                $rehearsal->isOver() => $rehearsal->endedHow === 'called off' ? 'Called off before it began.' : ucfirst($rehearsal->endedHow) . '.',
                $missing === 0 => 'Everybody agreed; it can begin.',
                default => $missing === 1 ? 'One person has not agreed yet.' : "{$missing} people have not agreed yet.",
            };
        }
        $by = $incident?->acknowledgedBy === null ? '' : $names[$incident->acknowledgedBy] ?? 'somebody';
        $after = $incident?->acknowledgedAt?->since($rehearsal->begunAt)->words() ?? '';

        return match (true) {
            !$rehearsal->isOver() => $by === '' ? 'Under way: nobody has answered yet.' : "Under way: {$by} answered after {$after}.",
            $by !== '' => "{$by} answered after {$after}.",
            default => ucfirst($rehearsal->endedHow) . '.',
        };
    }

    /**
     * @param array<int, string> $names
     *
     * @return list<RehearsedStep>
     */
    private function steps(Instant $begun, Incident $incident, array $names): array
    {
        $steps = [new RehearsedStep($begun, 'it began', null, false, '')];
        foreach ($this->deliveries->findBy(['incidentId' => $incident->id()], ['dueAt' => 'ASC', 'id' => 'ASC']) as $delivery) {
            if ($delivery->status !== DeliveryStatus::Dropped) {
                $steps[] = self::message($delivery, $names[$delivery->personId] ?? 'somebody who is gone');
            }
        }
        if ($incident->acknowledgedAt !== null && $incident->acknowledgedBy !== null) {
            $by = $names[$incident->acknowledgedBy] ?? 'somebody who is gone';
            $steps[] = new RehearsedStep($incident->acknowledgedAt, "{$by} answered", $incident->acknowledgedAt->since($begun)->ms, false, '');
        }
        if ($incident->resolvedAt !== null) {
            $steps[] = new RehearsedStep($incident->resolvedAt, 'it was over', null, false, '');
        }
        usort($steps, static fn(RehearsedStep $a, RehearsedStep $b): int => $a->at->ms <=> $b->at->ms);

        return $steps;
    }

    private static function message(Delivery $delivery, string $name): RehearsedStep
    {
        $what = Outcomes::label($delivery) . ": {$delivery->channel} to {$name}";
        $due = $delivery->dueAt;

        return match (true) {
            $delivery->sentAt !== null => new RehearsedStep(
                $delivery->sentAt,
                "{$what}, taken over there" . ($delivery->attempts > 1 ? " at attempt {$delivery->attempts}" : ''),
                $delivery->sentAt->since($due)->ms,
                $delivery->attempts > 1 || $delivery->sentAt->since($due)->isLongerThan(Duration::ofSeconds(10)),
                $delivery->answer,
            ),
            $delivery->status === DeliveryStatus::Failed => new RehearsedStep($due, "{$what} was not taken", null, true, $delivery->answer),
            default => new RehearsedStep($due, "{$what} waits", null, $delivery->attempts > 0, $delivery->answer),
        };
    }
}

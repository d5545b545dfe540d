<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Event\AlertsCame;
use Olivine\Core\Delivery\Event\AlertsLeft;
use Olivine\Core\Delivery\Event\SplitOff;
use Olivine\Core\Delivery\GroupedAlert;

/** Makes one incident of two, or two of one, where people know better what belongs together. */
final readonly class IncidentSurgery
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Courses $courses,
        private IncidentAlertRepository $alerts,
        private RaisingRules $rules,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem 409 where one of them is over by now; 422 where it is the same */
    public function merge(Incident $from, Incident $into, Person $person): void
    {
        if ($from->id() === $into->id()) {
            throw Problem::field('into', 'into must be another incident');
        }
        if ($from->rehearsedWith !== null || $into->rehearsedWith !== null) {
            throw Problem::field('into', 'A rehearsal stays by itself');
        }
        $courses = $this->courses->begin();
        // Whoever holds two incidents holds the older one first.
        [$first, $second] = $from->id() < $into->id() ? [$from, $into] : [$into, $from];
        $held = [$first->id() => $courses->of($first), $second->id() => $courses->of($second)];
        [$leaving, $staying] = [$held[$from->id()], $held[$into->id()]];
        foreach ($held as $id => $one) {
            if ($one->state->isOver()) {
                throw new Problem(409, "Incident {$id} is over already");
            }
        }
        $now = $this->clock->now();
        $state = $leaving->state;
        $known = array_filter($staying->state->alerts, static fn(GroupedAlert $alert): bool => $alert->isUp());
        $words = "{$person->name} merged incident {$from->id()} into this one: {$state->title}";
        $courses->step(
            $staying,
            new AlertsCame(array_diff_key($state->alerts, $known), $state->told, $state->severity, $state->title, $words),
            $now,
        );
        $into->toldBefore = $staying->state->told;
        $words = "{$person->name} merged it into incident {$into->id()}, which goes on with its alerts";
        $courses->step($leaving, new AlertsLeft(array_keys($state->alerts), $words), $now);
        $from->resolvedBy = $person->id();
        $this->entities->flush();
        $this->alerts->move(self::apart(array_keys($state->alerts)), $from->id(), $into->id());
        $this->audit->record('merged', "incident {$from->id()}", null, ['into' => $into->id()], $person);
        $this->entities->flush();
    }

    /**
     * @param list<string> $keys of alerts
     *
     * @return int the incident that they are of from now on
     *
     * @throws Problem 409 where it is over by now; 422 where these are none or all of its alerts
     */
    public function split(Incident $from, array $keys, Person $person): int
    {
        $courses = $this->courses->begin();
        $one = $courses->of($from);
        $state = $one->state;
        if ($state->isOver()) {
            throw new Problem(409, "Incident {$from->id()} is over already");
        }
        $isUp = static fn(string $key): bool => ($state->alerts[$key] ?? null)?->isUp() === true;
        $stays = array_diff_key($state->up(), array_flip($keys));
        if ($keys === [] || !array_all($keys, $isUp) || $stays === []) {
            throw Problem::field('alerts', 'alerts must be some of those that are raised in it, and not all of them');
        }
        $now = $this->clock->now();
        $new = $courses->split(new SplitOff($state, $from->id(), $keys, $this->titleOf($one, $keys), $person->name), $now);
        $new->incident->toldBefore = $state->told;
        $words = sprintf('%s made incident %d of %d of its alerts', $person->name, $new->incident->id(), count($keys));
        $courses->step($one, new AlertsLeft($keys, $words), $now);
        $this->entities->flush();
        $this->alerts->move(self::apart($keys), $from->id(), $new->incident->id());
        $this->audit->record('split', "incident {$from->id()}", null, ['incident' => $new->incident->id(), 'alerts' => count($keys)], $person);
        $this->entities->flush();

        return $new->incident->id();
    }

    /** @param list<string> $keys */
    private function titleOf(CourseUnderWay $one, array $keys): string
    {
        foreach ($keys as $key) {
            $alert = $one->alert($key);
            $by = $alert === null || $alert->isBroken() ? null : $this->rules->of($alert->ruleId, $alert->revisionId);
            if ($alert !== null && $by !== null) {
                $title = $alert->blind ? $by->blind($alert->labelSet()) : $by->raised($alert->labelSet());

                return AlertEvents::title(count($keys) === 1 ? $title : sprintf('%s, and %d more', $title, count($keys) - 1));
            }
        }

        return $one->state->title;
    }

    /**
     * @param list<string> $keys
     *
     * @return list<array{int, string}> rule and hash of the labels
     */
    private static function apart(array $keys): array
    {
        return array_map(static function (string $key): array {
            [$rule, $hash] = explode(' ', $key);

            return [(int) $rule, $hash];
        }, $keys);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\SetAside;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Delivery\IncidentState;
use Olivine\Core\Time\Instant;

/** Runs the courses of incidents by what is set up. */
final readonly class Courses
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Database $database,
        private IncidentRepository $incidents,
        private IncidentAlertRepository $alerts,
        private DeliveryRepository $deliveries,
        private Trail $trail,
        private WhoHears $who,
        private PlanInService $plan,
        private SetAside $aside,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * For one transaction, within it: an incident that only these people are told of.
     *
     * @param list<int> $agreed
     */
    public function rehearse(array $agreed): CoursesUnderWay
    {
        return $this->by($this->who->now()->rehearsing($agreed));
    }

    /** For one transaction, within it. */
    public function begin(TakeMode $mode = TakeMode::Live): CoursesUnderWay
    {
        return $this->by($mode === TakeMode::Live ? $this->who->now() : $this->who->lookingBack());
    }

    /**
     * Each incident in these slots whose rung is due goes on, in a transaction of its own.
     *
     * @param list<int> $but incidents that wait for somebody to be reached, and are looked at later
     *
     * @return list<int> incidents whose rung reached nobody: it stays due
     */
    public function letTimePass(Instant $now, HeldSlots $slots, array $but): array
    {
        $open = array_values(array_filter(
            $this->incidents->climbing($this->plan->plan()->untilOver()),
            static fn(Incident $one): bool => $slots->has($one->id()) && !in_array($one->id(), $but, true),
        ));
        if ($open === []) {
            return [];
        }
        $configuration = $this->who->now();
        $inEarnest = new Course($configuration);
        $climbed = $this->deliveries->climbed(array_map(static fn(Incident $one): int => $one->id(), $open));
        $stayDue = [];
        foreach ($open as $incident) {
            $course = $incident->rehearsedWith === null ? $inEarnest : new Course($incident->goesBy($configuration));
            $next = $course->nextAt(IncidentStates::of($incident, climbed: $climbed[$incident->id()] ?? []));
            if ($next === null || $next->isAfter($now)) {
                continue;
            }
            $goOn = function () use ($incident, $configuration, $course, $now, &$stayDue): void {
                $state = $this->goOn($incident, $configuration, $now);
                if ($course->nextAt($state)?->isAfter($now) === false) {
                    $stayDue[] = $incident->id();
                }
            };
            $this->aside->unless('dispatcher', "the rungs of incident {$incident->id()}", $goOn);
        }

        return $stayDue;
    }

    private function goOn(Incident $incident, Configuration $configuration, Instant $now): IncidentState
    {
        return $this->database->transaction(function () use ($incident, $configuration, $now): IncidentState {
            $courses = $this->by($configuration);
            $one = $courses->of($incident);
            if (!$one->state->isOver()) {
                $courses->step($one, new TimePassed(), $now);
                $this->entities->flush();
            }

            return $one->state;
        });
    }

    private function by(Configuration $configuration): CoursesUnderWay
    {
        return new CoursesUnderWay($configuration, $this->entities, $this->incidents, $this->alerts, $this->deliveries, $this->trail, $this->clock);
    }
}

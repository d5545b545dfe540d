<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\TimePassed;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Who would hear of a path's alerts at every hour to come, by the very course that alerts take: one is raised where anything may become
 * otherwise (a shift ends, hours of the path or of somebody's quiet begin, a set time passes), and what holds there holds until the next.
 *
 * By example, a fortnight of a path up the roster of the piers has some thirty shifts: thirty courses say who hears in each of its 336 hours.
 */
final readonly class Coverage
{
    /** Whose a rule is that is not known yet. */
    public const WHOEVER_OWNS_IT = -1;
    private const OWNER = "\0owner";
    /** Set times that are farther off than this are waited for. */
    private const SOON_MINUTES = 60;

    public function __construct(private Configuration $configuration, private Severity $severity = Severity::Major)
    {
    }

    /** @return list<Covered> maximal stretches that make up `[from, to)` */
    public function of(Path $path, Instant $from, Instant $to): array
    {
        $people = $this->configuration->people->withStandIn(self::OWNER, self::WHOEVER_OWNS_IT);
        $course = new Course($this->configuration->only($path, $people));
        $borders = $this->borders($path, $from, $to);
        $covered = [];
        $last = null;
        foreach (array_slice($borders, 0, -1) as $i => $at) {
            $one = $this->at($course, $path, Instant::ofMs($at), Instant::ofMs($borders[$i + 1]));
            if ($last !== null && $last->isAs($one)) {
                $one = $last->through($one->to);
                array_pop($covered);
            }
            $covered[] = $last = $one;
        }

        return $covered;
    }

    private function at(Course $course, Path $path, Instant $at, Instant $to): Covered
    {
        if ($path->hours?->covers($at) === false) {
            return new Covered($at, $to, false, [], [], []);
        }
        $raised = $course->step(null, new AlertRaised('tried', LabelSet::of(['owner' => self::OWNER]), $this->severity, 'An alert', 'raised'), $at);
        $decisions = $raised->decisions;
        $next = $course->nextAt($raised->state);
        if ($next !== null) {
            array_push($decisions, ...$course->step($raised->state, new TimePassed(), $next)->decisions);
        }
        $told = $later = $empty = [];
        foreach ($decisions as $decision) {
            if ($decision instanceof Tell && $decision->kind === MessageKind::Raised) {
                $isLater = $next !== null && $decision->dueAt->isAfter($next);
                $isLater ? $later[$decision->person] = [$decision->person, $decision->dueAt] : $told[] = [$decision->person, $decision->way];
            } elseif ($decision instanceof Line && $decision->kind === TrailKind::Failed) {
                $empty[] = $decision->words;
            }
        }

        return new Covered($at, $to, true, $told, array_values($later), $empty);
    }

    /** @return non-empty-list<int> rising, with both ends */
    private function borders(Path $path, Instant $from, Instant $to): array
    {
        $borders = [$from->ms => true, $to->ms => true];
        foreach ($this->rosters($path) as $name) {
            foreach ($this->configuration->rosters->named($name)?->shifts($from, $to) ?? [] as $shift) {
                $borders[$shift->from->ms] = true;
            }
        }
        $hours = array_filter([$path->hours, ...$this->configuration->people->quiet()], static fn(mixed $one): bool => $one !== null);
        foreach ($hours as $one) {
            foreach ($one->between($from, $to) as [$begin, $end]) {
                $borders[$begin->later($from)->ms] = $borders[$end->earlier($to)->ms] = true;
            }
        }
        // Of what waits for a set time, whoever is on call then hears.
        for ($at = $from; $at->isBefore($to); $at = $told->plus(Duration::ofMs(1))) {
            $told = $path->gather->endsAt($at);
            if (!$told->since($at)->isLongerThan(Duration::ofMinutes(self::SOON_MINUTES))) {
                break;
            }
            $borders[$told->earlier($to)->ms] = true;
        }
        $borders = array_keys($borders);
        sort($borders);

        return $borders;
    }

    /** @return list<string> of the rosters that the ladder asks */
    private function rosters(Path $path): array
    {
        $names = [];
        foreach ($path->ladder->steps as $step) {
            foreach ($step->who as $who) {
                if ($who->listener === Listener::OnCall || $who->listener === Listener::NextOnRoster) {
                    $names[$who->name] = true;
                }
            }
        }

        return array_map(strval(...), array_keys($names));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Olivine\App\Collect\Check\Outages;
use Olivine\App\Collect\TargetStatuses;
use Olivine\App\Delivery\AwayChannels;
use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\IncidentView;
use Olivine\App\Delivery\KeptMutes;
use Olivine\App\Delivery\PlanInService;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\UnheardPaths;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\PartReports;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SetAside;
use Olivine\App\Platform\Settings;
use Olivine\App\Platform\WorkedOut;
use Olivine\App\Roster\Answer\OnCall;
use Olivine\App\Roster\KeptRosters;
use Olivine\App\Rule\AlertStates;
use Olivine\App\Rule\Answer\BrokenRule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleProblem;
use Olivine\App\Rule\RuleProblems;
use Olivine\App\Store\Standstills;
use Olivine\App\Watch\Answer\Forecast;
use Olivine\App\Watch\Answer\WatchData;
use Olivine\App\Watch\Answer\WatchTeam;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Time\Instant;

/** Gathers what somebody who watches has to see: what is open, what was, what is to come, and how the parts are. */
final readonly class Sight
{
    private const MOST_PAST = 300;
    private const MOST_SILENT = 20;
    private const MOST_BUILDING = 10;

    public function __construct(
        private IncidentRepository $incidents,
        private IncidentView $view,
        private TargetStatuses $statuses,
        private AlertStates $alerts,
        private RuleRepository $rules,
        private Standstills $standstills,
        private Outages $outages,
        private RuleProblems $problems,
        private PartReports $parts,
        private SetAside $aside,
        private AwayChannels $away,
        private WorkedOut $workedOut,
        private KeptRosters $rosters,
        private UnheardPaths $unheard,
        private KeptMutes $mutes,
        private PlanInService $plan,
        private PersonRepository $people,
        private Settings $settings,
    ) {
    }

    public function at(Instant $now, Instant $from, Instant $to): WatchData
    {
        $incidents = $this->incidents->seenBetween($from, $now, self::MOST_PAST);
        $counts = $this->statuses->counts($now);
        $isSomeoneSilent = $counts->onTime + $counts->paused + $counts->new < $counts->known;

        return new WatchData(
            away: array_values($this->away->now()),
            cutOff: $this->outages->now(),
            silentStations: $this->outages->silentStations($now),
            building: $this->alerts->building(self::MOST_BUILDING),
            forecasts: $this->forecasts($now, $to),
            broken: array_map(self::broken(...), $this->problems->now()),
            aside: $this->aside->now(),
            from: $from,
            hushes: $this->mutes->spans($from, $to),
            now: $now,
            open: array_map($this->view->row(...), self::openFirst($incidents)),
            parts: array_values($this->parts->now($now)),
            past: array_map($this->view->head(...), $incidents),
            rulesInService: $this->rules->count(['enabled' => true]),
            services: array_values(array_map(Scalar::text(...), $this->workedOut->of(Services::NAME))),
            shifts: $this->shifts($from, $to),
            silent: $isSomeoneSilent ? $this->statuses->silent($now, self::MOST_SILENT) : [],
            stoodStill: $this->standstills->since($from),
            targets: $counts,
            teams: $this->teams(),
            to: $to,
            unheard: $this->unheard->now(),
            zone: $this->settings->zone()->getName(),
        );
    }

    /**
     * @param list<Incident> $incidents
     *
     * @return list<Incident> those that are not over: nobody's first, the gravest first, the oldest first
     */
    private static function openFirst(array $incidents): array
    {
        $open = array_values(
            array_filter($incidents, static fn(Incident $one): bool => $one->status !== IncidentStatus::Resolved),
        );
        usort(
            $open,
            static fn(Incident $a, Incident $b): int => [
                $b->status === IncidentStatus::Open,
                $b->severity->rank(),
                $a->openedAt,
            ] <=> [$a->status === IncidentStatus::Open, $a->severity->rank(), $b->openedAt],
        );

        return $open;
    }

    /** @return list<Forecast> what is to come within the span */
    private function forecasts(Instant $now, Instant $to): array
    {
        /** @var list<array{at: int, ruleId: int, service: string, severity: string, words: string}> $kept */
        $kept = [...$this->workedOut->of(Forecasts::NAME), ...$this->workedOut->of(CertificateEnds::NAME)];
        $found = array_map(Forecast::fromKept(...), $kept);
        usort($found, static fn(Forecast $a, Forecast $b): int => $a->at <=> $b->at);

        return array_values(array_filter($found, static fn(Forecast $one): bool => $one->at->isAfter($now) && !$one->at->isAfter($to)));
    }

    /** @return list<WatchTeam> */
    private function teams(): array
    {
        $byAddress = array_column($this->people->byName(), 'name', 'email');

        return array_map(
            static fn(TeamDefinition $one): WatchTeam => new WatchTeam($one->name, array_values(array_intersect_key($byAddress, array_flip($one->people)))),
            $this->plan->plan()->definition->teams,
        );
    }

    private static function broken(RuleProblem $problem): BrokenRule
    {
        return new BrokenRule(
            message: $problem->message,
            rule: $problem->rule,
            ruleId: $problem->ruleId,
            since: $problem->since,
            tries: $problem->tries,
        );
    }

    /** @return list<OnCall> with who takes over at the end of each */
    private function shifts(Instant $from, Instant $to): array
    {
        $shifts = $this->rosters->shifts($from, $to);
        $shown = [];
        foreach ($shifts as $i => $shift) {
            $next = isset($shifts[$i + 1]) ? $shifts[$i + 1]->person : $this->rosters->after($shift);
            $shown[] = new OnCall($shift->from, $this->view->name($next), $this->view->name($shift->person), $shift->to);
        }

        return $shown;
    }
}

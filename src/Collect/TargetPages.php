<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Answer\HeldReadings;
use Olivine\App\Collect\Answer\IncidentLine;
use Olivine\App\Collect\Answer\RuleName;
use Olivine\App\Collect\Answer\TargetPage;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\PushedRepository;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\App\Store\MetricCatalogue;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Series\LabelSet;

/** What one target's page tells beside its settings: how its scrapes went, what it brings, where that is used, what it raised. */
final readonly class TargetPages
{
    private const LAST_FAULTS = 30;
    private const LAST_INCIDENTS = 20;
    private const DAY_MS = 86_400_000;

    public function __construct(
        private TargetStatuses $statuses,
        private TargetLimits $limits,
        private MetricCatalogue $catalogue,
        private SeriesIndex $index,
        private RuleRepository $rules,
        private RuleDefinitions $definitions,
        private IncidentRepository $incidents,
        private PushedRepository $pushed,
        private Clock $clock = new Clock(),
    ) {
    }

    public function of(Target $target): TargetPage
    {
        $id = $target->id();

        return new TargetPage(
            faults: $this->statuses->lastFaults($id, self::LAST_FAULTS),
            faultsInDay: $this->statuses->faultsSince($id, $this->clock->now()->ms - self::DAY_MS),
            incidents: array_map(self::line(...), $this->incidents->ofTarget($target->name, self::LAST_INCIDENTS)),
            lateMinutes: $this->limits->values()[TargetLimit::LateMinutes->value],
            metrics: $this->catalogue->ofTarget($id),
            rules: $this->lookingAt($id),
            held: $target->kind === SourceKind::Pushed ? $this->held($id) : null,
        );
    }

    private function held(int $id): ?HeldReadings
    {
        $last = $this->pushed->last($id);

        return $last === null ? null : new HeldReadings($last->at, $last->endsAt);
    }

    private static function line(Incident $incident): IncidentLine
    {
        return new IncidentLine(
            id: $incident->id(),
            openedAt: $incident->openedAt,
            resolvedAt: $incident->resolvedAt,
            severity: $incident->severity,
            status: $incident->status->value,
            title: $incident->title,
        );
    }

    /** @return list<RuleName> the rules that look at a series of this target */
    private function lookingAt(int $targetId): array
    {
        $known = [];
        foreach ($this->rules->byName() as $rule) {
            try {
                $definition = $this->definitions->of($rule->inService);
                $name = new RuleName(id: $rule->id(), name: $rule->name, severity: $definition->condition->core()->severity());
                $known[] = [$name, Tree::selections(Parser::parse($definition->formula))];
            } catch (FormulaError|BadRule|Problem) {
                // One that cannot be read looks at nothing; the rule says so itself.
            }
        }
        $metrics = array_unique(
            array_map(static fn(Select $one): string => $one->metric, array_merge(...array_column($known, 1))),
        );
        $series = $this->index->ofTarget($targetId, array_values($metrics));
        $looking = [];
        foreach ($known as [$name, $selections]) {
            if (array_any($selections, static fn(Select $one): bool => self::finds($one, $series[$one->metric] ?? []))) {
                $looking[] = $name;
            }
        }

        return $looking;
    }

    /** @param list<LabelSet> $series */
    private static function finds(Select $selection, array $series): bool
    {
        return array_any(
            $series,
            static fn(LabelSet $labels): bool => $selection->where === null || $selection->where->accepts($labels),
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\Curve;
use Olivine\App\Delivery\Answer\IncidentAlert as ShownAlert;
use Olivine\App\Delivery\Answer\IncidentChart;
use Olivine\App\Delivery\Answer\IncidentDetail;
use Olivine\App\Delivery\Answer\IncidentHead;
use Olivine\App\Delivery\Answer\IncidentRow;
use Olivine\App\Delivery\Answer\NextRung;
use Olivine\App\Delivery\Answer\ShownTicket;
use Olivine\App\Delivery\Answer\Told;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Delivery\Entity\Ticket;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Repository\TicketRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Delivery\Rung;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Symfony\Contracts\Cache\CacheInterface;
use Symfony\Contracts\Cache\ItemInterface;
use Symfony\Contracts\Service\ResetInterface;

/** What the screens show of an incident. */
final class IncidentView implements ResetInterface
{
    private const CHART_STEPS = 180;
    private const SPARK_STEPS = 60;
    private const SPARK_SPAN_MINUTES = 60;
    private const SPARK_KEPT_SECONDS = 10;
    private const CHART_LEAD_MINUTES = 45;
    private const CHART_TAIL_MINUTES = 15;

    /** @var array<int, string>|null */
    private ?array $names = null;
    /** By what is set up at the moment. */
    private ?Course $course = null;

    public function __construct(
        private readonly RaisingRules $rules,
        private readonly IncidentAlertRepository $alerts,
        private readonly DeliveryRepository $deliveries,
        private readonly PersonRepository $people,
        private readonly Evaluator $evaluator,
        private readonly Trail $trail,
        private readonly TicketRepository $tickets,
        private readonly WhoHears $who,
        private readonly NearOnset $near,
        private readonly CacheInterface $cache,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    /** What was found for one request is looked up anew for the next. */
    public function reset(): void
    {
        $this->names = null;
        $this->course = null;
    }

    /** A row of a list, with a spark of the last hour. */
    public function row(Incident $incident): IncidentRow
    {
        $alerts = $this->alerts->of($incident->id());
        $first = $this->first($alerts);
        $now = $this->clock->now();
        $raises = $this->deliveries->raisedOf($incident->id());

        return new IncidentRow(
            $this->head($incident),
            alerts: count($alerts),
            first: $first === null ? null : $this->alert(...$first),
            next: $this->next($incident, $raises, $now),
            open: count(array_filter($alerts, static fn(IncidentAlert $alert): bool => $alert->clearedAt === null)),
            spark: $first === null || $first[1]->isOfGroup() || $incident->status === IncidentStatus::Resolved
                ? null
                : $this->spark($incident, $first[1]->rule, $first[0]->labelSet(), $now),
            told: array_map($this->told(...), $raises),
        );
    }

    /** Everything, with the chart of the alert that decides. */
    public function detail(Incident $incident): IncidentDetail
    {
        $alerts = $this->alerts->of($incident->id());
        $first = $this->first($alerts);
        $now = $this->clock->now();
        $to = $incident->resolvedAt?->plus(Duration::ofMinutes(self::CHART_TAIL_MINUTES))->earlier($now) ?? $now;
        $lead = $incident->openedAt->minus(Duration::ofMinutes(self::CHART_LEAD_MINUTES));
        $from = $lead->earlier($to->minus(Duration::ofMinutes(self::SPARK_SPAN_MINUTES)));
        $shown = [];
        foreach ($alerts as $alert) {
            $by = $this->rules->of($alert->ruleId, $alert->revisionId);
            if ($by !== null) {
                $shown[] = $this->alert($alert, $by);
            }
        }
        $curve = $first === null || $first[1]->isOfGroup() ? null : $this->curve($first[1]->rule, $first[0]->labelSet(), $from, $to, self::CHART_STEPS);

        return new IncidentDetail(
            $this->head($incident),
            alerts: $shown,
            chart: $curve === null ? null : new IncidentChart(from: $from, times: $curve->times, to: $to, values: $curve->values),
            next: $this->next($incident, $this->deliveries->raisedOf($incident->id()), $now),
            trail: $this->trail->of($incident->id()),
            tickets: array_map(
                static fn(Ticket $one): ShownTicket => new ShownTicket($one->channel, $one->key, $one->state, $one->owner, $one->url, $one->lookedAt),
                $this->tickets->of($incident->id()),
            ),
            usual: $first === null || $curve === null
                ? null
                : $this->near->usual($incident->id(), $first[1]->rule->formula, $first[0]->labelSet(), $first[0]->raisedAt),
            changes: $this->near->changes($incident),
        );
    }

    public function head(Incident $incident): IncidentHead
    {
        return new IncidentHead(
            id: $incident->id(),
            acknowledgedAt: $incident->acknowledgedAt,
            acknowledgedBy: $incident->acknowledgedBy === null ? null : $this->name($incident->acknowledgedBy),
            heldUntil: $incident->status === IncidentStatus::Acknowledged ? $incident->heldUntil : null,
            hushedUntil: $incident->status === IncidentStatus::Resolved ? null : $incident->hushedUntil,
            openedAt: $incident->openedAt,
            rehearsed: $incident->rehearsedWith !== null,
            replayed: $incident->replayed,
            resolvedAt: $incident->resolvedAt,
            resolvedBy: $incident->resolvedBy === null ? null : $this->name($incident->resolvedBy),
            service: $incident->service,
            severity: $incident->severity,
            status: $incident->status,
            title: $incident->title,
        );
    }

    public function name(?int $personId): string
    {
        $this->names ??= $this->people->names();

        return $this->names[$personId] ?? '';
    }

    /**
     * The next rung: while nobody has it, or when the time is over for which somebody has.
     *
     * @param list<Delivery> $raises that tell of it
     */
    private function next(Incident $incident, array $raises, Instant $now): ?NextRung
    {
        if ($incident->status === IncidentStatus::Resolved || $incident->replayed) {
            return null;
        }
        $this->course ??= new Course($this->who->now());
        $course = $incident->rehearsedWith === null ? $this->course : new Course($incident->goesBy($this->who->now()));
        $next = $course->nextRung(IncidentStates::of($incident, climbed: IncidentStates::climbed($raises)), $now);
        if ($next === null) {
            return null;
        }
        [$rung, $at, $people] = $next;

        return new NextRung(at: $at, person: implode(', ', array_map($this->name(...), $people)), rung: $rung->number);
    }

    private function told(Delivery $delivery): Told
    {
        return new Told(
            answer: $delivery->answer,
            at: $delivery->sentAt,
            channel: $delivery->channel,
            person: $this->name($delivery->personId),
            rung: Rung::numberOf($delivery->round),
            status: $delivery->status->value,
        );
    }

    /**
     * @param list<IncidentAlert> $alerts
     *
     * @return array{IncidentAlert, RaisedBy}|null the one that decides
     */
    private function first(array $alerts): ?array
    {
        foreach ($alerts as $alert) {
            $by = $this->rules->of($alert->ruleId, $alert->revisionId);
            if ($by !== null) {
                return [$alert, $by];
            }
        }

        return null;
    }

    private function alert(IncidentAlert $alert, RaisedBy $by): ShownAlert
    {
        $labels = $alert->labelSet();
        $rule = $by->rule;
        $condition = $by->conditionOf($labels);

        return new ShownAlert(
            key: IncidentStates::key($alert->ruleId, $alert->labelsHash),
            name: $alert->isBroken() ? "The rule {$rule->name}" : $by->name($labels),
            blind: $alert->blind,
            broken: $alert->isBroken() ? $alert->words : null,
            end: $alert->clearedAt === null ? null : $alert->ended,
            clearHoldSeconds: $rule->clearHoldSeconds,
            clearWords: $condition->backWords($by->unit),
            clearedAt: $alert->clearedAt,
            formula: $rule->formula,
            holdSeconds: $rule->holdSeconds,
            labels: $labels,
            lines: $condition->lines(),
            onsetAt: $alert->onsetAt,
            raisedAt: $alert->raisedAt,
            raisedValue: $alert->raisedValue,
            reason: $condition->reason($alert->raisedNumbers ?? [], $by->unit),
            ruleId: $alert->ruleId,
            runbook: $rule->runbook,
            severity: $alert->severity,
            unit: $by->isOfGroup() ? 'of them' : $by->unit,
            words: $rule->words[$alert->severity->value] ?? '',
        );
    }

    /** The same curve for everyone who looks within some seconds. */
    private function spark(Incident $incident, RuleDefinition $rule, LabelSet $labels, Instant $now): Curve
    {
        return $this->cache->get("spark.{$incident->id()}", function (ItemInterface $item) use ($rule, $labels, $now): Curve {
            $item->expiresAfter(self::SPARK_KEPT_SECONDS);

            return $this->curve($rule, $labels, $now->minus(Duration::ofMinutes(self::SPARK_SPAN_MINUTES)), $now, self::SPARK_STEPS);
        });
    }

    private function curve(RuleDefinition $rule, LabelSet $labels, Instant $from, Instant $to, int $steps): Curve
    {
        $stepMs = max(1_000, intdiv($to->since($from)->ms, $steps));
        $lastMs = $from->ms + $stepMs * $steps;
        try {
            $values = $this->evaluator->line(Parser::parse($rule->formula), $labels, $from->ms, $lastMs, $stepMs)?->values;
        } catch (FormulaError|TooMuchToRead) {
            $values = null;
        }
        $drawn = static fn(?float $value): ?float => $value === null || !is_finite($value) ? null : $value;

        return new Curve(
            times: range($from->ms, $lastMs, $stepMs),
            values: $values === null ? array_fill(0, $steps + 1, null) : array_map($drawn, $values),
        );
    }
}

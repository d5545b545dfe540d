<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Platform\Clock;
use Olivine\App\Roster\Rota;
use Olivine\App\Rule\AlertStore;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Symfony\Contracts\Cache\CacheInterface;
use Symfony\Contracts\Cache\ItemInterface;
use Symfony\Contracts\Service\ResetInterface;

/** What the screens show of an incident. */
final class IncidentView implements ResetInterface
{
    private const CHART_STEPS = 180;
    private const SPARK_STEPS = 60;
    private const SPARK_SPAN_MS = 3_600_000;
    private const SPARK_KEPT_SECONDS = 10;
    private const CHART_LEAD_MS = 2_700_000;

    /** @var array<int, string>|null */
    private ?array $names = null;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Evaluator $evaluator,
        private readonly Checker $checker,
        private readonly Trail $trail,
        private readonly DeliveryPlan $plan,
        private readonly Rota $rota,
        private readonly CacheInterface $cache,
    ) {
    }

    /** What was found for one request is looked up anew for the next. */
    public function reset(): void
    {
        $this->names = null;
    }

    /** @return array<string, mixed> a row of a list, with a spark of the last hour */
    public function row(Incident $incident): array
    {
        $alerts = $this->alerts($incident->id());
        $first = $alerts[0] ?? null;
        $now = Clock::nowMs();
        $told = $this->entities
            ->getConnection()
            ->fetchAllAssociative(
                "SELECT kind, round, person_id, status, due_at, sent_at, answer FROM delivery WHERE incident_id = ? AND kind = 'raised' ORDER BY round",
                [$incident->id()],
            );

        return $this->head($incident) + [
            'alerts' => count($alerts),
            'open' => count(array_filter($alerts, static fn(array $alert): bool => $alert['clearedAt'] === null)),
            'first' => $first === null ? null : array_diff_key($first, ['rule' => 0, 'labelSet' => 0]),
            'spark' =>
                $first === null || $incident->status === IncidentStatus::Resolved
                    ? null
                    : $this->spark($incident, $first['rule'], $first['labelSet'], $now),
            'told' => array_map(
                fn(array $row): array => [
                    'person' => $this->name((int) $row['person_id']),
                    'rung' => (int) $row['round'],
                    'status' => $row['status'],
                    'at' => $row['sent_at'] === null ? null : (int) $row['sent_at'],
                    'answer' => $row['answer'],
                ],
                $told,
            ),
            'next' => $this->next($incident, $now),
        ];
    }

    /**
     * The same curve for everyone who looks within some seconds.
     *
     * @return array<string, mixed>
     */
    private function spark(Incident $incident, Rule $rule, LabelSet $labels, int $nowMs): array
    {
        return $this->cache->get("spark.{$incident->id()}", function (ItemInterface $item) use ($rule, $labels, $nowMs): array {
            $item->expiresAfter(self::SPARK_KEPT_SECONDS);

            return $this->values($rule, $labels, $nowMs - self::SPARK_SPAN_MS, $nowMs, self::SPARK_STEPS);
        });
    }

    /** @return array<string, mixed> everything, with the chart of the alert that decides */
    public function detail(Incident $incident): array
    {
        $alerts = $this->alerts($incident->id());
        $first = $alerts[0] ?? null;
        $now = Clock::nowMs();
        $to = min($now, ($incident->resolvedAt ?? $now) + ($incident->resolvedAt === null ? 0 : 900_000));
        $from = min($incident->openedAt - self::CHART_LEAD_MS, $to - self::SPARK_SPAN_MS);

        return $this->head($incident) + [
            'alerts' => array_map(
                static fn(array $alert): array => array_diff_key($alert, ['rule' => 0, 'labelSet' => 0]),
                $alerts,
            ),
            'chart' =>
                $first === null
                    ? null
                    : ['from' => $from, 'to' => $to] +
                        $this->values($first['rule'], $first['labelSet'], $from, $to, self::CHART_STEPS),
            'trail' => $this->trail->of($incident->id()),
            'next' => $this->next($incident, $now),
        ];
    }

    /** @return array{at: int, rung: int, person: string}|null the next rung, while nobody has it */
    public function next(Incident $incident, int $nowMs): ?array
    {
        if ($incident->status !== IncidentStatus::Open || $incident->replayed) {
            return null;
        }
        $rotation = $this->rota->rotation();
        foreach ($this->plan->ladder()->rungs($incident->openedAt) as $rung) {
            if ($rung->dueAtMs > $nowMs && $rotation !== null) {
                $shift = $rotation->at($rung->dueAtMs);

                return [
                    'at' => $rung->dueAtMs,
                    'rung' => $rung->number,
                    'person' => $this->name($rung->listener === Listener::OnCall ? $shift->person : $shift->nextPerson),
                ];
            }
        }

        return null;
    }

    public function name(?int $personId): string
    {
        $this->names ??= $this->entities->getConnection()->fetchAllKeyValue('SELECT id, name FROM person');

        return $this->names[$personId] ?? '';
    }

    /** @return array<string, mixed> */
    public function head(Incident $incident): array
    {
        return [
            'id' => $incident->id(),
            'service' => $incident->service,
            'title' => $incident->title,
            'severity' => $incident->severity->value,
            'status' => $incident->status->value,
            'openedAt' => $incident->openedAt,
            'acknowledgedAt' => $incident->acknowledgedAt,
            'acknowledgedBy' => $incident->acknowledgedBy === null ? null : $this->name($incident->acknowledgedBy),
            'resolvedAt' => $incident->resolvedAt,
            'resolvedBy' => $incident->resolvedBy === null ? null : $this->name($incident->resolvedBy),
            'replayed' => $incident->replayed,
        ];
    }

    /** @return list<array<string, mixed>> still raised first, worst first */
    private function alerts(int $incidentId): array
    {
        $alerts = [];
        foreach (
            $this->entities
                ->getConnection()
                ->fetchAllAssociative(
                    "SELECT * FROM incident_alert WHERE incident_id = ?
                     ORDER BY cleared_at IS NOT NULL, FIELD(severity, 'critical', 'major', 'minor', 'warning'), raised_at",
                    [$incidentId],
                ) as $row
        ) {
            $rule = $this->entities->find(Rule::class, (int) $row['rule_id']);
            if ($rule === null) {
                continue;
            }
            $labels = AlertStore::labels((string) $row['labels']);
            $alerts[] = [
                'rule' => $rule,
                'labelSet' => $labels,
                'ruleId' => $rule->id(),
                'name' => $row['kind'] === 'broken' ? "The rule {$rule->name}" : $rule->name . IncidentSentence::where($labels),
                'labels' => (object) $labels->labels,
                'severity' => (string) $row['severity'],
                'onsetAt' => (int) $row['onset_at'],
                'raisedAt' => (int) $row['raised_at'],
                'clearedAt' => $row['cleared_at'] === null ? null : (int) $row['cleared_at'],
                'raisedValue' => $row['raised_value'] === null ? null : (float) $row['raised_value'],
                'unit' => $this->unit($rule),
                'direction' => $rule->direction->value,
                'limit' => $rule->limit,
                'clearLimit' => $rule->clearLimit,
                'holdSeconds' => $rule->holdSeconds,
                'clearHoldSeconds' => $rule->clearHoldSeconds,
                'formula' => $rule->formula,
                'runbook' => $rule->runbook,
                'blind' => (bool) $row['blind'],
                'broken' => $row['kind'] === 'broken' ? (string) $row['words'] : null,
                'end' => $row['cleared_at'] === null ? null : (string) $row['ended'],
            ];
        }

        return $alerts;
    }

    /** @return array{times: list<int>, values: list<float|null>} */
    private function values(Rule $rule, LabelSet $labels, int $fromMs, int $toMs, int $steps): array
    {
        $step = max(1_000, intdiv($toMs - $fromMs, $steps));
        $times = range($fromMs, $fromMs + $step * $steps, $step);
        try {
            $values = $this->evaluator->line(Parser::parse($rule->formula), $labels, $fromMs, $fromMs + $step * $steps, $step)
                ?->values;
        } catch (FormulaError|TooMuchToRead) {
            $values = null;
        }

        return [
            'times' => $times,
            'values' =>
                $values === null
                    ? array_fill(0, count($times), null)
                    : array_map(
                        static fn(?float $value): ?float => $value === null || !is_finite($value) ? null : $value,
                        $values,
                    ),
        ];
    }

    private function unit(Rule $rule): string
    {
        try {
            return $this->checker->unitOf(Parser::parse($rule->formula));
        } catch (FormulaError) {
            return '';
        }
    }
}

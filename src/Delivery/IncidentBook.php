<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Platform\Database;
use Olivine\App\Rule\AlertStore;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Quantity;

/**
 * Makes incidents out of transitions: alerts of one service that are up at the same time are one incident. Taking a
 * transition and all it changes is one transaction, so each counts once whenever a process ends.
 */
final readonly class IncidentBook
{
    private const TAKEN_A_ROUND = 200;

    public function __construct(
        private EntityManagerInterface $entities,
        private Database $database,
        private Trail $trail,
        private DeliveryPlan $plan,
        private Checker $checker,
    ) {
    }

    /** @return int how many transitions were taken */
    public function takeTransitions(TakeMode $mode): int
    {
        $rows = $this->database->connection->fetchAllAssociative('SELECT * FROM transition WHERE taken = 0 ORDER BY at, id LIMIT ' . self::TAKEN_A_ROUND);
        $rules = [];
        foreach ($rows as $row) {
            $ruleId = (int) $row['rule_id'];
            $rules[$ruleId] ??= $this->entities->find(Rule::class, $ruleId);
            $rule = $rules[$ruleId];
            $this->database->transaction(function (Connection $connection) use ($row, $rule, $mode): void {
                if ($connection->executeStatement('UPDATE transition SET taken = 1 WHERE id = ? AND taken = 0', [$row['id']]) === 1 && $rule !== null) {
                    $this->apply($row, $rule, $mode);
                    $this->entities->flush();
                }
            });
        }
        $this->entities->clear();

        return count($rows);
    }

    /** @param array<string, mixed> $row */
    private function apply(array $row, Rule $rule, TakeMode $mode): void
    {
        $at = (int) $row['at'];
        $labels = AlertStore::labels((string) $row['labels']);
        $from = Phase::from((string) $row['from_phase']);
        $to = Phase::from((string) $row['to_phase']);
        $severity = $row['severity'] === null ? null : Severity::from((string) $row['severity']);
        $value = $row['value'] === null ? null : (float) $row['value'];
        $onset = $row['onset_at'] === null ? $at : (int) $row['onset_at'];
        $open = $this->openAlert($rule->id(), (string) $row['labels_hash']);

        if ($to === Phase::Raised && $open === null) {
            $this->raise($rule, $labels, (string) $row['labels_hash'], $at, $onset, $severity ?? $rule->severity, $value, $mode, false);
        } elseif ($to === Phase::Blind && $open === null && $severity !== null) {
            $this->raise($rule, $labels, (string) $row['labels_hash'], $at, $onset, $severity, null, $mode, true);
        } elseif ($open !== null && $to === Phase::Calm) {
            $this->clear($rule, $labels, $open, (string) $row['labels_hash'], $at, $value, $mode);
        } elseif ($open !== null) {
            $this->follow($rule, $labels, $open, (string) $row['labels_hash'], $at, $from, $to, $severity, $value, $mode);
        }
    }

    private function raise(Rule $rule, LabelSet $labels, string $hash, int $at, int $onset, Severity $severity, ?float $value, TakeMode $mode, bool $blind): void
    {
        $unit = $this->unit($rule);
        $title = $blind ? IncidentSentence::blind($rule, $labels) : IncidentSentence::raised($rule, $labels, $unit);
        $service = $rule->service !== '' ? $rule->service : ($labels->get('service') !== '' ? $labels->get('service') : 'no service');
        $incident = $this->openIncident($service);
        $isNew = $incident === null;
        if ($incident === null) {
            $incident = new Incident($service, self::fitting($title), $severity, $at, $mode === TakeMode::Replay);
            $this->entities->persist($incident);
            $this->entities->flush();
        }
        $this->database->insertNew(
            'incident_alert',
            ['incident_id', 'rule_id', 'labels_hash', 'labels', 'onset_at', 'raised_at', 'cleared_at', 'severity', 'raised_value', 'peak_value', 'blind'],
            [[$incident->id(), $rule->id(), $hash, json_encode($labels->labels, JSON_THROW_ON_ERROR | JSON_FORCE_OBJECT), $onset, $at, null, $severity->value, $value, $value, (int) $blind]],
        );
        $this->database->connection->executeStatement(
            'UPDATE incident_alert SET cleared_at = NULL, raised_at = ?, severity = ? WHERE incident_id = ? AND rule_id = ? AND labels_hash = ? AND cleared_at IS NOT NULL',
            [$at, $severity->value, $incident->id(), $rule->id(), $hash],
        );
        if (!$blind && $onset < $at) {
            $this->trail->add($incident->id(), $onset, TrailKind::Alert, sprintf('%s went %s %s', $rule->name . IncidentSentence::where($labels), $rule->direction->value, Quantity::words($rule->limit, $unit)));
        }
        $this->trail->add($incident->id(), $at, TrailKind::Alert, sprintf(
            'raised as %s%s%s',
            $severity->value,
            $value === null ? ', no readings' : ' at ' . Quantity::words($value, $unit),
            $isNew ? '' : ': ' . $title . '; same service, so the same incident',
        ));
        if ($isNew) {
            $mode === TakeMode::Live
                ? $this->trail->add($incident->id(), $at, TrailKind::Alert, sprintf('gathers alerts of %s for %s before anyone is told', $service, Quantity::span($this->plan->gatherMs())))
                : $this->trail->add($incident->id(), $at, TrailKind::HeldBack, 'found by replaying recorded readings: nobody was told');
        } elseif ($severity->isWorseThan($incident->severity)) {
            $this->worsen($incident, $severity, $title, $at, $mode);
        }
    }

    /** The incident is called after the gravest of its alerts. */
    private function worsen(Incident $incident, Severity $severity, string $title, int $at, TakeMode $mode): void
    {
        $incident->severity = $severity;
        $incident->title = self::fitting($title);
        $this->trail->add($incident->id(), $at, TrailKind::Alert, "the incident is now {$severity->value}: {$incident->title}");
        if ($mode === TakeMode::Live && !$incident->replayed) {
            $this->plan->tellWorse($incident, $at);
        }
    }

    /** @param array{incident: Incident, severity: Severity, blind: bool} $open */
    private function follow(Rule $rule, LabelSet $labels, array $open, string $hash, int $at, Phase $from, Phase $to, ?Severity $severity, ?float $value, TakeMode $mode): void
    {
        $unit = $this->unit($rule);
        $words = match (true) {
            $to === Phase::Easing => sprintf('back at %s, %s %s; clears if it lasts %s', Quantity::words($value ?? 0.0, $unit), $rule->direction->opposite()->value, Quantity::words($rule->clearLimit, $unit), Quantity::span($rule->clearHoldSeconds * 1000)),
            $to === Phase::Raised && $from === Phase::Easing => sprintf('past the clear limit again at %s, stays raised', Quantity::words($value ?? 0.0, $unit)),
            $to === Phase::Raised && $from === Phase::Raised => sprintf('worse: %s at %s', $severity === null ? '' : $severity->value, Quantity::words($value ?? 0.0, $unit)),
            $to === Phase::Blind => 'no readings any more; last known as raised',
            $to === Phase::Raised => 'readings are back and past the limit',
            default => "{$from->value} → {$to->value}",
        };
        $this->trail->add($open['incident']->id(), $at, TrailKind::Alert, $words . ($from === Phase::Raised && $to === Phase::Raised ? '' : ' (' . $rule->name . IncidentSentence::where($labels) . ')'));
        if ($severity !== null && $severity->isWorseThan($open['severity'])) {
            $this->database->connection->executeStatement('UPDATE incident_alert SET severity = ? WHERE incident_id = ? AND rule_id = ? AND labels_hash = ?', [$severity->value, $open['incident']->id(), $rule->id(), $hash]);
            if ($severity->isWorseThan($open['incident']->severity)) {
                $this->worsen($open['incident'], $severity, IncidentSentence::raised($rule, $labels, $unit), $at, $mode);
            }
        }
    }

    /** @param array{incident: Incident, severity: Severity, blind: bool} $open */
    private function clear(Rule $rule, LabelSet $labels, array $open, string $hash, int $at, ?float $value, TakeMode $mode): void
    {
        $connection = $this->database->connection;
        $connection->executeStatement('UPDATE incident_alert SET cleared_at = ? WHERE incident_id = ? AND rule_id = ? AND labels_hash = ?', [$at, $open['incident']->id(), $rule->id(), $hash]);
        $this->trail->add($open['incident']->id(), $at, TrailKind::Alert, 'cleared' . ($value === null ? '' : ' at ' . Quantity::words($value, $this->unit($rule))) . ': ' . $rule->name . IncidentSentence::where($labels));
        $incident = $open['incident'];
        $left = (int) $connection->fetchOne('SELECT COUNT(*) FROM incident_alert WHERE incident_id = ? AND cleared_at IS NULL', [$incident->id()]);
        if ($left > 0) {
            return;
        }
        $incident->status = IncidentStatus::Resolved;
        $incident->resolvedAt = $at;
        $this->trail->add($incident->id(), $at, TrailKind::Alert, sprintf('resolved: every alert cleared, after %s', Quantity::span($at - $incident->openedAt)));
        if ($mode === TakeMode::Live && !$incident->replayed) {
            $this->plan->tellRecovery($incident, $at);
        }
    }

    /** @return array{incident: Incident, severity: Severity, blind: bool}|null */
    private function openAlert(int $ruleId, string $hash): ?array
    {
        $row = $this->database->connection->fetchAssociative(
            "SELECT a.incident_id, a.severity, a.blind FROM incident_alert a JOIN incident i ON i.id = a.incident_id
             WHERE a.rule_id = ? AND a.labels_hash = ? AND a.cleared_at IS NULL ORDER BY a.incident_id DESC LIMIT 1",
            [$ruleId, $hash],
        );

        if ($row === false) {
            return null;
        }
        $incident = $this->held((int) $row['incident_id']);

        // Where somebody resolved it in this moment, its alerts went with it.
        return $incident->status === IncidentStatus::Resolved ? null : ['incident' => $incident, 'severity' => Severity::from((string) $row['severity']), 'blind' => (bool) $row['blind']];
    }

    private function openIncident(string $service): ?Incident
    {
        $id = $this->database->connection->fetchOne('SELECT id FROM incident WHERE service = ? AND status <> ? ORDER BY id DESC LIMIT 1 FOR UPDATE', [$service, IncidentStatus::Resolved->value]);

        return $id === false ? null : $this->held((int) $id);
    }

    /** As it is now, and nobody else changes it until the transaction is over: whoever resolves it does so before or after. */
    private function held(int $id): Incident
    {
        return $this->entities->find(Incident::class, $id, LockMode::PESSIMISTIC_WRITE) ?? throw new \LogicException("Incident {$id} is gone");
    }

    private static function fitting(string $title): string
    {
        return mb_substr($title, 0, 500);
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

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Database;
use Olivine\Core\Rule\AlertState;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\TrackedAlert;
use Olivine\Core\Series\LabelSet;

/** Keeps the alerts of rules: what changed, the transitions and how far the rule has been evaluated commit together. */
final readonly class AlertStore
{
    private const COLUMNS = ['rule_id', 'labels_hash', 'labels', 'phase', 'since_at', 'onset_at', 'severity', 'missing_since_at', 'raised_before'];

    public function __construct(private Database $database)
    {
    }

    public static function hash(LabelSet $labels): string
    {
        return substr(hash('sha256', $labels->key()), 0, 32);
    }

    /** @return array<string, TrackedAlert> by the key of their labels */
    public function load(int $ruleId): array
    {
        $alerts = [];
        foreach ($this->database->connection->fetchAllAssociative('SELECT * FROM alert WHERE rule_id = ?', [$ruleId]) as $row) {
            $labels = self::labels((string) $row['labels']);
            $alerts[$labels->key()] = new TrackedAlert($labels, new AlertState(
                Phase::from((string) $row['phase']),
                (int) $row['since_at'],
                $row['onset_at'] === null ? null : (int) $row['onset_at'],
                $row['severity'] === null ? null : Severity::from((string) $row['severity']),
                $row['missing_since_at'] === null ? null : (int) $row['missing_since_at'],
                (bool) $row['raised_before'],
            ));
        }

        return $alerts;
    }

    /** @return int|null the instant up to which the rule has been evaluated; null for a new rule */
    public function through(int $ruleId): ?int
    {
        $through = $this->database->connection->fetchOne('SELECT through_at FROM rule_progress WHERE rule_id = ?', [$ruleId]);

        return $through === false ? null : (int) $through;
    }

    /** @param array<string, TrackedAlert> $before */
    public function save(int $ruleId, int $ruleVersion, array $before, Outcome $outcome, int $throughMs): void
    {
        $changed = [];
        foreach ($outcome->alerts as $key => $alert) {
            if (($before[$key] ?? null) !== $alert) {
                $state = $alert->state;
                $changed[] = [
                    $ruleId, self::hash($alert->labels), json_encode($alert->labels->labels, JSON_THROW_ON_ERROR | JSON_FORCE_OBJECT), $state->phase->value, $state->sinceMs,
                    $state->onsetMs, $state->severity?->value, $state->missingSinceMs, (int) $state->raisedBefore,
                ];
            }
        }
        $transitions = [];
        foreach ($outcome->transitions as $happened) {
            $transition = $happened->transition;
            $transitions[] = [
                $ruleId, self::hash($happened->labels), json_encode($happened->labels->labels, JSON_THROW_ON_ERROR | JSON_FORCE_OBJECT), $transition->atMs, $transition->from->value, $transition->to->value,
                $transition->severity?->value, $transition->value !== null && is_finite($transition->value) ? $transition->value : null, $transition->onsetMs, 0,
            ];
        }
        $gone = array_diff_key($before, $outcome->alerts);
        $this->database->transaction(function (Connection $connection) use ($ruleId, $ruleVersion, $changed, $transitions, $gone, $throughMs): void {
            $this->database->upsert('alert', self::COLUMNS, $changed);
            $this->database->insertNew('transition', ['rule_id', 'labels_hash', 'labels', 'at', 'from_phase', 'to_phase', 'severity', 'value', 'onset_at', 'taken'], $transitions);
            foreach ($gone as $alert) {
                $connection->executeStatement('DELETE FROM alert WHERE rule_id = ? AND labels_hash = ?', [$ruleId, self::hash($alert->labels)]);
            }
            $this->database->upsert('rule_progress', ['rule_id', 'rule_version', 'through_at'], [[$ruleId, $ruleVersion, $throughMs]]);
        });
    }

    public static function labels(string $json): LabelSet
    {
        /** @var array<string, string> $labels */
        $labels = json_decode($json, true, 8, JSON_THROW_ON_ERROR);

        return LabelSet::of($labels);
    }
}

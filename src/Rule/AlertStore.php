<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Database;
use Olivine\Core\Rule\AlertState;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\TrackedAlert;
use Olivine\Core\Series\LabelSet;

/** Keeps the alerts of rules: what changed, the transitions and how far the rule has been evaluated commit together. */
final readonly class AlertStore
{
    private const COLUMNS = [
        'rule_id',
        'labels_hash',
        'labels',
        'phase',
        'since_at',
        'onset_at',
        'severity',
        'missing_since_at',
        'raised_before',
    ];
    private const OF_TRANSITIONS = [
        'rule_id',
        'labels_hash',
        'labels',
        'at',
        'from_phase',
        'to_phase',
        'severity',
        'value',
        'onset_at',
        'why',
        'taken',
    ];
    private const LONGEST_WHY = 300;

    public function __construct(private Database $database)
    {
    }

    public static function hash(LabelSet $labels): string
    {
        return substr(hash('sha256', $labels->key()), 0, 32);
    }

    public static function json(LabelSet $labels): string
    {
        return json_encode($labels->labels, JSON_THROW_ON_ERROR | JSON_FORCE_OBJECT);
    }

    /** @return array<string, TrackedAlert> by the key of their labels */
    public function load(int $ruleId): array
    {
        $alerts = [];
        foreach ($this->database->connection->fetchAllAssociative('SELECT * FROM alert WHERE rule_id = ?', [$ruleId]) as $row) {
            $labels = self::labels((string) $row['labels']);
            $alerts[$labels->key()] = new TrackedAlert(
                $labels,
                new AlertState(
                    Phase::from((string) $row['phase']),
                    (int) $row['since_at'],
                    $row['onset_at'] === null ? null : (int) $row['onset_at'],
                    $row['severity'] === null ? null : Severity::from((string) $row['severity']),
                    $row['missing_since_at'] === null ? null : (int) $row['missing_since_at'],
                    (bool) $row['raised_before'],
                ),
            );
        }

        return $alerts;
    }

    /** @return RuleProgress|null null for a rule that was never evaluated */
    public function progress(int $ruleId): ?RuleProgress
    {
        $row = $this->database->connection->fetchAssociative(
            'SELECT through_at, formula_hash, turn FROM rule_progress WHERE rule_id = ?',
            [$ruleId],
        );

        return $row === false
            ? null
            : new RuleProgress((int) $row['through_at'], (string) $row['formula_hash'], (int) $row['turn']);
    }

    /**
     * @param array<string, TrackedAlert> $before   what was loaded
     * @param RuleProgress                $progress how far it is now
     *
     * @throws AlertsMoved where the labels of alerts were changed since they were loaded; nothing is written then
     */
    public function save(int $ruleId, int $ruleVersion, array $before, Outcome $outcome, RuleProgress $progress): void
    {
        $changed = [];
        foreach ($outcome->alerts as $key => $alert) {
            if (($before[$key] ?? null) !== $alert) {
                $state = $alert->state;
                $changed[] = [
                    $ruleId,
                    self::hash($alert->labels),
                    self::json($alert->labels),
                    $state->phase->value,
                    $state->sinceMs,
                    $state->onsetMs,
                    $state->severity?->value,
                    $state->missingSinceMs,
                    (int) $state->raisedBefore,
                ];
            }
        }
        $transitions = array_map(
            static fn(AlertTransition $happened): array => self::row($ruleId, $happened),
            $outcome->transitions,
        );
        $gone = array_diff_key($before, $outcome->alerts);
        $this->database->transaction(function (Connection $connection) use (
            $ruleId,
            $ruleVersion,
            $changed,
            $transitions,
            $gone,
            $progress,
        ): void {
            $this->advance($connection, $ruleId, $ruleVersion, $progress);
            $this->database->upsert('alert', self::COLUMNS, $changed);
            $this->database->insertNew('transition', self::OF_TRANSITIONS, $transitions);
            foreach ($gone as $alert) {
                $connection->executeStatement('DELETE FROM alert WHERE rule_id = ? AND labels_hash = ?', [
                    $ruleId,
                    self::hash($alert->labels),
                ]);
            }
        });
    }

    /** A rule that is not evaluated any more is as one that never was: switched on again, it begins anew. */
    public function forget(int $ruleId): void
    {
        $this->database->connection->executeStatement('DELETE FROM rule_progress WHERE rule_id = ?', [$ruleId]);
    }

    public static function labels(string $json): LabelSet
    {
        /** @var array<string, string> $labels */
        $labels = json_decode($json, true, 8, JSON_THROW_ON_ERROR);

        return LabelSet::of($labels);
    }

    private function advance(Connection $connection, int $ruleId, int $ruleVersion, RuleProgress $progress): void
    {
        $turn = $connection->fetchOne('SELECT turn FROM rule_progress WHERE rule_id = ? FOR UPDATE', [$ruleId]);
        if ($turn !== false && (int) $turn !== $progress->turn) {
            throw new AlertsMoved();
        }
        $this->database->upsert(
            'rule_progress',
            ['rule_id', 'rule_version', 'through_at', 'formula_hash', 'turn'],
            [[$ruleId, $ruleVersion, $progress->throughMs, $progress->formulaHash, $progress->turn]],
        );
    }

    /** @return list<int|float|string|null> */
    private static function row(int $ruleId, AlertTransition $happened): array
    {
        $transition = $happened->transition;
        $value = $transition->value !== null && is_finite($transition->value) ? $transition->value : null;

        return [
            $ruleId,
            self::hash($happened->labels),
            self::json($happened->labels),
            $transition->atMs,
            $transition->from->value,
            $transition->to->value,
            $transition->severity?->value,
            $value,
            $transition->onsetMs,
            mb_substr($transition->why, 0, self::LONGEST_WHY),
            0,
        ];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\App\Rule\Answer\BuildingAlert;
use Olivine\Core\Rule\AlertState;
use Olivine\Core\Rule\Memory;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\TrackedAlert;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Keeps the alerts of rules: what changed, the transitions and how far the rule has been evaluated commit together. */
final readonly class AlertStates
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
        'memory',
        'milder_since_at',
    ];

    public function __construct(private Database $database, private Transitions $transitions)
    {
    }

    /** @return array<string, TrackedAlert> by the key of their labels */
    public function load(int $ruleId): array
    {
        $alerts = [];
        foreach ($this->database->connection->fetchAllAssociative('SELECT * FROM alert WHERE rule_id = ?', [$ruleId]) as $row) {
            $labels = AlertKey::labels(Scalar::text($row['labels']));
            $alerts[$labels->key()] = new TrackedAlert(
                $labels,
                new AlertState(
                    Phase::from(Scalar::text($row['phase'])),
                    Scalar::instant($row['since_at']),
                    Scalar::instantOrNull($row['onset_at']),
                    $row['severity'] === null ? null : Severity::from(Scalar::text($row['severity'])),
                    Scalar::instantOrNull($row['missing_since_at']),
                    (bool) $row['raised_before'],
                    self::memory($row['memory']),
                    Scalar::instantOrNull($row['milder_since_at']),
                ),
            );
        }

        return $alerts;
    }

    /** @return list<LabelSet> of what a rule looks at, as many as that */
    public function labels(int $ruleId, int $most): array
    {
        $labels = $this->database->connection->fetchFirstColumn("SELECT labels FROM alert WHERE rule_id = ? LIMIT {$most}", [$ruleId]);

        return array_values(array_map(static fn(mixed $one): LabelSet => AlertKey::labels(Scalar::text($one)), $labels));
    }

    /** @return array<int, Instant> rule → the last instant that it looked at */
    public function throughByRule(): array
    {
        $through = [];
        foreach ($this->database->connection->fetchAllAssociative('SELECT rule_id, through_at FROM rule_progress') as $row) {
            $through[Scalar::int($row['rule_id'])] = Scalar::instant($row['through_at']);
        }

        return $through;
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
            : new RuleProgress(
                Scalar::instant($row['through_at']),
                Scalar::text($row['formula_hash']),
                Scalar::int($row['turn']),
            );
    }

    /**
     * @param array<string, TrackedAlert> $before   what was loaded
     * @param RuleProgress                $progress how far it is now
     *
     * @throws AlertsMoved where the labels of alerts were changed since they were loaded; nothing is written then
     */
    public function save(int $ruleId, int $revisionId, array $before, Outcome $outcome, RuleProgress $progress): void
    {
        $changed = [];
        foreach ($outcome->alerts as $key => $alert) {
            if (($before[$key] ?? null) !== $alert) {
                $state = $alert->state;
                $changed[] = [
                    $ruleId,
                    AlertKey::hash($alert->labels),
                    AlertKey::json($alert->labels),
                    $state->phase->value,
                    $state->since->ms,
                    $state->onset?->ms,
                    $state->severity?->value,
                    $state->missingSince?->ms,
                    (int) $state->raisedBefore,
                    $state->memory->numbers === [] ? null : json_encode($state->memory->numbers, JSON_THROW_ON_ERROR),
                    $state->milderSince?->ms,
                ];
            }
        }
        $gone = array_diff_key($before, $outcome->alerts);
        $this->database->transaction(function (Connection $connection) use (
            $ruleId,
            $revisionId,
            $changed,
            $outcome,
            $gone,
            $progress,
        ): void {
            $this->advance($connection, $ruleId, $revisionId, $progress);
            $this->database->upsert('alert', self::COLUMNS, $changed);
            $this->transitions->add($ruleId, $revisionId, $outcome->transitions);
            foreach ($gone as $alert) {
                $connection->executeStatement('DELETE FROM alert WHERE rule_id = ? AND labels_hash = ?', [
                    $ruleId,
                    AlertKey::hash($alert->labels),
                ]);
            }
        });
    }

    /**
     * @param non-empty-list<string> $rules
     *
     * @return Instant|null how far the slowest of these rules is; null where none of them is evaluated
     */
    public function reachedBy(array $rules): ?Instant
    {
        return Scalar::instantOrNull(
            $this->database->connection
                ->executeQuery(
                    'SELECT MIN(COALESCE(p.through_at, 0)) FROM rule r LEFT JOIN rule_progress p ON p.rule_id = r.id
                     WHERE r.enabled = 1 AND r.name IN (?)',
                    [$rules],
                    [ArrayParameterType::STRING],
                )
                ->fetchOne(),
        );
    }

    /** A rule that is not evaluated any more is as one that never was: switched on again, it begins anew. */
    public function forget(int $ruleId): void
    {
        $this->database->connection->executeStatement('DELETE FROM rule_progress WHERE rule_id = ?', [$ruleId]);
    }

    /** Of a rule that is removed nothing stays. */
    public function drop(int $ruleId): void
    {
        $this->forget($ruleId);
        $this->database->connection->executeStatement('DELETE FROM alert WHERE rule_id = ?', [$ruleId]);
    }

    /** @return array<int, array<string, int>> rule → phase → how many alerts are in it */
    public function phasesByRule(): array
    {
        $phases = [];
        $rows = $this->database->connection->iterateNumeric('SELECT rule_id, phase, COUNT(*) FROM alert GROUP BY rule_id, phase');
        foreach ($rows as [$rule, $phase, $alerts]) {
            $phases[Scalar::int($rule)][Scalar::text($phase)] = Scalar::int($alerts);
        }

        return $phases;
    }

    /** @return list<BuildingAlert> what would raise if it lasts, the longest first */
    public function building(int $most): array
    {
        return array_map(
            static fn(array $row): BuildingAlert => new BuildingAlert(
                raisesAt: Scalar::instant($row['since_at'])->plus(
                    Duration::ofSeconds(Scalar::int($row['hold_seconds'])),
                ),
                rule: Scalar::text($row['name']),
                ruleId: Scalar::int($row['rule_id']),
            ),
            $this->database->connection->fetchAllAssociative(
                "SELECT a.rule_id, r.name, a.since_at, JSON_VALUE(v.definition, '$.holdSeconds') AS hold_seconds FROM alert a
                 JOIN rule r ON r.id = a.rule_id JOIN rule_revision v ON v.id = r.in_service_id
                 WHERE a.phase = 'building' AND r.enabled ORDER BY a.since_at LIMIT {$most}",
            ),
        );
    }

    /** @throws AlertsMoved */
    private function advance(Connection $connection, int $ruleId, int $revisionId, RuleProgress $progress): void
    {
        $turn = $connection->fetchOne('SELECT turn FROM rule_progress WHERE rule_id = ? FOR UPDATE', [$ruleId]);
        if ($turn !== false && Scalar::int($turn) !== $progress->turn) {
            throw new AlertsMoved();
        }
        $this->database->upsert(
            'rule_progress',
            ['rule_id', 'revision_id', 'through_at', 'formula_hash', 'turn'],
            [[$ruleId, $revisionId, $progress->through->ms, $progress->formulaHash, $progress->turn]],
        );
    }

    private static function memory(mixed $kept): Memory
    {
        $numbers = $kept === null ? [] : json_decode(Scalar::text($kept), true, 2, JSON_THROW_ON_ERROR);

        return new Memory(array_map(Scalar::float(...), array_values((array) $numbers)));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\RaisedSpells;
use Olivine\Core\Rule\Rule as CoreRule;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Transition;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What happened to alerts, each written once, and which of it the dispatcher has not taken yet. */
final readonly class Transitions
{
    private const COLUMNS = [
        'rule_id',
        'revision_id',
        'labels_hash',
        'labels',
        'at',
        'from_phase',
        'to_phase',
        'severity',
        'value',
        'numbers',
        'onset_at',
        'why',
        'taken',
    ];
    private const LONGEST_WHY = 300;
    private const AT_ONCE = 2_000;

    public function __construct(private Database $database)
    {
    }

    /** @param list<AlertTransition> $happened within the transaction that writes the states they lead to */
    public function add(int $ruleId, int $revisionId, array $happened): void
    {
        $this->database->insertNew(
            'transition',
            self::COLUMNS,
            array_map(static fn(AlertTransition $one): array => self::row($ruleId, $revisionId, $one), $happened),
        );
    }

    /** @return list<int> ids of those not taken yet, in the order they happened */
    public function untaken(int $most): array
    {
        return array_map(
            Scalar::int(...),
            $this->database->connection->fetchFirstColumn(
                "SELECT id FROM transition WHERE taken = 0 ORDER BY at, id LIMIT {$most}",
            ),
        );
    }

    /** @return \Generator<StoredTransition> of all rules, in the order in which they happened, so many at once */
    public function between(Instant $after, Instant $through): \Generator
    {
        $sql = 'SELECT * FROM transition WHERE at >= ? AND at <= ? AND (at > ? OR id > ?) ORDER BY at, id LIMIT ' . self::AT_ONCE;
        [$at, $id] = [$after->ms, PHP_INT_MAX];
        do {
            $rows = $this->database->connection->fetchAllAssociative($sql, [$at, $through->ms, $at, $id]);
            foreach ($rows as $row) {
                [$at, $id] = [Scalar::int($row['at']), Scalar::int($row['id'])];
                yield self::stored($row);
            }
        } while (count($rows) === self::AT_ONCE);
    }

    /** By itself: one that cannot be read is no reason to pass over the others. */
    public function read(int $id): StoredTransition
    {
        $row = $this->database->connection->fetchAssociative('SELECT * FROM transition WHERE id = ?', [$id]);
        $row !== false || throw new \LogicException("Transition {$id} is gone");

        return self::stored($row);
    }

    /** @return bool whether it was there to be taken */
    public function take(int $id): bool
    {
        return $this->database->connection->executeStatement('UPDATE transition SET taken = 1 WHERE id = ? AND taken = 0', [
            $id,
        ]) === 1;
    }

    /** @return array<int, int> rule → how many alerts it raised since then */
    public function raisesByRule(Instant $since): array
    {
        /** @var array<int, mixed> $raises */
        $raises = $this->database->connection->fetchAllKeyValue(
            "SELECT rule_id, COUNT(*) FROM transition
             WHERE to_phase = 'raised' AND from_phase IN ('calm', 'building') AND at > ? GROUP BY rule_id",
            [$since->ms],
        );

        return Scalar::ints($raises);
    }

    /** @return array<int, Instant> rule → when it raised last, of those that did since then */
    public function lastRaiseByRule(Instant $since): array
    {
        /** @var array<int, mixed> $last */
        $last = $this->database->connection->fetchAllKeyValue(
            "SELECT rule_id, MAX(at) FROM transition WHERE to_phase = 'raised' AND at > ? GROUP BY rule_id",
            [$since->ms],
        );

        return array_map(Scalar::instant(...), $last);
    }

    /**
     * What began and ended alerts.
     *
     * @return array<int, list<AlertTransition>> by rule, in the order of time
     */
    public function raisedAndEnded(Instant $since): array
    {
        $rows = $this->database->connection->iterateAssociative(
            "SELECT rule_id, labels, at, from_phase, to_phase, severity, value, onset_at FROM transition
             WHERE at > ? AND to_phase IN ('raised', 'calm', 'lost', 'ended') ORDER BY at, id",
            [$since->ms],
        );
        $happened = [];
        foreach ($rows as $row) {
            $happened[Scalar::int($row['rule_id'])][] = self::moved($row);
        }

        return $happened;
    }

    /** @return list<AlertTransition> all that was written of a rule, in the order of time */
    public function of(int $ruleId, Instant $after, Instant $through): array
    {
        return array_map(
            self::moved(...),
            $this->database->connection->fetchAllAssociative(
                'SELECT labels, at, from_phase, to_phase, severity, value, onset_at FROM transition
                 WHERE rule_id = ? AND at > ? AND at <= ? ORDER BY at, id',
                [$ruleId, $after->ms, $through->ms],
            ),
        );
    }

    /**
     * When a rule was raised, as far as that matters to what is usual from an instant on.
     *
     * @param Instant $before what happened then or later is left out
     */
    public function spells(int $ruleId, CoreRule $rule, Instant $from, Instant $before): RaisedSpells
    {
        $remembered = $rule->remembersSpells();
        if ($remembered === null) {
            return RaisedSpells::none();
        }
        $after = $from->minus($remembered)->minus(Duration::ofDays(1));

        return RaisedSpells::in($this->of($ruleId, $after, $before->minus(Duration::ofMs(1))), $rule);
    }

    /** @param array<string, mixed> $row */
    private static function moved(array $row): AlertTransition
    {
        return new AlertTransition(
            AlertKey::labels(Scalar::text($row['labels'])),
            new Transition(
                Scalar::instant($row['at']),
                Phase::from(Scalar::text($row['from_phase'])),
                Phase::from(Scalar::text($row['to_phase'])),
                $row['severity'] === null ? null : Severity::from(Scalar::text($row['severity'])),
                $row['value'] === null ? null : Scalar::float($row['value']),
                Scalar::instant($row['onset_at'] ?? $row['at']),
            ),
        );
    }

    /** @return list<int|float|string|null> */
    private static function row(int $ruleId, int $revisionId, AlertTransition $happened): array
    {
        $transition = $happened->transition;
        $value = $transition->value !== null && is_finite($transition->value) ? $transition->value : null;

        return [
            $ruleId,
            $revisionId,
            AlertKey::hash($happened->labels),
            AlertKey::json($happened->labels),
            $transition->at->ms,
            $transition->from->value,
            $transition->to->value,
            $transition->severity?->value,
            $value,
            self::numbers($transition->numbers),
            $transition->onset?->ms,
            mb_substr($transition->why, 0, self::LONGEST_WHY),
            0,
        ];
    }

    /** @param array<string, float> $numbers what is not finite is left out */
    private static function numbers(array $numbers): ?string
    {
        $finite = array_filter($numbers, is_finite(...));

        return $finite === [] ? null : json_encode($finite, JSON_THROW_ON_ERROR);
    }

    /** @return array<string, float> */
    private static function numbersOf(string $numbers): array
    {
        $read = [];
        foreach ((array) json_decode($numbers, true, 2, JSON_THROW_ON_ERROR) as $name => $number) {
            $read[(string) $name] = Scalar::float($number);
        }

        return $read;
    }

    /** @param array<string, mixed> $row */
    private static function stored(array $row): StoredTransition
    {
        return new StoredTransition(
            id: Scalar::int($row['id']),
            ruleId: Scalar::int($row['rule_id']),
            revisionId: Scalar::int($row['revision_id']),
            labelsHash: Scalar::text($row['labels_hash']),
            labels: AlertKey::labels(Scalar::text($row['labels'])),
            at: Scalar::instant($row['at']),
            from: Phase::from(Scalar::text($row['from_phase'])),
            to: Phase::from(Scalar::text($row['to_phase'])),
            severity: $row['severity'] === null ? null : Severity::from(Scalar::text($row['severity'])),
            value: $row['value'] === null ? null : Scalar::float($row['value']),
            numbers: $row['numbers'] === null ? [] : self::numbersOf(Scalar::text($row['numbers'])),
            onset: Scalar::instant($row['onset_at'] ?? $row['at']),
            why: Scalar::text($row['why']),
        );
    }
}

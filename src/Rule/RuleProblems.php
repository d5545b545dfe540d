<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Rules that cannot be evaluated: since when, why, and when they are tried again, after pauses that double from a second
 * to a minute. One that works again is over; where somebody was told of it, it stays until that was taken back.
 */
final readonly class RuleProblems
{
    private const FIRST_PAUSE_MS = 1_000;
    private const LONGEST_PAUSE_MS = 60_000;
    private const LONGEST_MESSAGE = 1_000;
    private const SELECT = 'SELECT p.rule_id, r.name, p.since_at, p.tries, p.next_at, p.message, p.told_at FROM rule_problem p JOIN rule r ON r.id = p.rule_id';

    public function __construct(private Database $database)
    {
    }

    /** @return Instant when it is tried again */
    public function met(int $ruleId, string $message, Instant $now): Instant
    {
        $tries = Scalar::int(
            $this->database->connection->fetchOne('SELECT tries FROM rule_problem WHERE rule_id = ? AND over_at IS NULL', [
                $ruleId,
            ]),
        );
        $next = $now->plus(Duration::ofMs(min(self::LONGEST_PAUSE_MS, self::FIRST_PAUSE_MS * 2 ** min(10, $tries))));
        $this->database->connection->executeStatement(
            'INSERT INTO rule_problem (rule_id, since_at, at, tries, next_at, message) VALUES (:rule, :now, :now, 1, :next, :message)
             ON DUPLICATE KEY UPDATE since_at = IF(over_at IS NULL, since_at, :now), at = :now,
             tries = IF(over_at IS NULL, tries + 1, 1), next_at = :next, message = :message, over_at = NULL',
            [
                'rule' => $ruleId,
                'now' => $now->ms,
                'next' => $next->ms,
                'message' => mb_substr(mb_scrub($message), 0, self::LONGEST_MESSAGE),
            ],
        );

        return $next;
    }

    public function over(int $ruleId, Instant $now): void
    {
        $this->database->connection->executeStatement('DELETE FROM rule_problem WHERE rule_id = ? AND told_at IS NULL', [
            $ruleId,
        ]);
        $this->database->connection->executeStatement(
            'UPDATE rule_problem SET over_at = COALESCE(over_at, ?) WHERE rule_id = ?',
            [$now->ms, $ruleId],
        );
    }

    /** @return array<int, Instant> rule → when it is tried again, of all that have a problem now */
    public function next(): array
    {
        $next = [];
        foreach (
            $this->database->connection->fetchAllKeyValue('SELECT rule_id, next_at FROM rule_problem WHERE over_at IS NULL') as $rule => $at
        ) {
            $next[Scalar::int($rule)] = Scalar::instant($at);
        }

        return $next;
    }

    /** @return list<RuleProblem> the longest first */
    public function now(): array
    {
        return array_map(
            self::problem(...),
            $this->database->connection->fetchAllAssociative(
                self::SELECT . ' WHERE p.over_at IS NULL AND r.enabled = 1 ORDER BY p.since_at, r.name',
            ),
        );
    }

    /** @return array<int, RuleProblem> by the rule */
    public function byRule(): array
    {
        return array_column($this->now(), null, 'ruleId');
    }

    /** @return list<RuleProblem> that nobody was told of yet */
    public function untold(Instant $sinceAtMost): array
    {
        return array_map(
            self::problem(...),
            $this->database->connection->fetchAllAssociative(
                self::SELECT . ' WHERE p.over_at IS NULL AND p.told_at IS NULL AND p.since_at <= ?',
                [$sinceAtMost->ms],
            ),
        );
    }

    /** @return list<int> rules of whose problem somebody was told and which is over */
    public function toldAndOver(): array
    {
        return array_map(
            Scalar::int(...),
            $this->database->connection->fetchFirstColumn(
                'SELECT p.rule_id FROM rule_problem p LEFT JOIN rule r ON r.id = p.rule_id
                 WHERE p.told_at IS NOT NULL AND (p.over_at IS NOT NULL OR r.id IS NULL OR r.enabled = 0)',
            ),
        );
    }

    public function markTold(int $ruleId, Instant $now): bool
    {
        return $this->database->connection->executeStatement(
            'UPDATE rule_problem SET told_at = ? WHERE rule_id = ? AND told_at IS NULL AND over_at IS NULL',
            [$now->ms, $ruleId],
        ) === 1;
    }

    public function drop(int $ruleId): bool
    {
        return $this->database->connection->executeStatement('DELETE FROM rule_problem WHERE rule_id = ?', [$ruleId]) === 1;
    }

    /** @param array<string, mixed> $row */
    private static function problem(array $row): RuleProblem
    {
        return new RuleProblem(
            Scalar::int($row['rule_id']),
            Scalar::text($row['name']),
            Scalar::instant($row['since_at']),
            Scalar::int($row['tries']),
            Scalar::instant($row['next_at']),
            Scalar::text($row['message']),
        );
    }
}

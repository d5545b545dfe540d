<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\SetAside;
use Olivine\App\Rule\AlertStore;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\RuleProblem;
use Olivine\App\Rule\RuleProblems;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Quantity;
use Psr\Log\LoggerInterface;

/**
 * Makes incidents out of transitions: alerts of one service that are up at the same time are one incident. Taking a
 * transition and all it changes is one transaction, so each counts once whenever a process ends.
 */
final readonly class IncidentBook
{
    private const TAKEN_A_ROUND = 200;
    private const OWN_SERVICE = 'olivine';
    private const LONGEST_TITLE = 500;
    private const LONGEST_SERVICE = 120;
    /** In place of the hash of labels: a rule that cannot be evaluated has none. */
    private const BROKEN = 'broken';
    private const ALERT_COLUMNS = [
        'incident_id',
        'rule_id',
        'labels_hash',
        'labels',
        'onset_at',
        'raised_at',
        'cleared_at',
        'severity',
        'raised_value',
        'peak_value',
        'blind',
        'target',
    ];

    public function __construct(
        private EntityManagerInterface $entities,
        private Database $database,
        private Trail $trail,
        private DeliveryPlan $plan,
        private Checker $checker,
        private RuleProblems $problems,
        private SetAside $aside,
        private LoggerInterface $logger,
    ) {
    }

    /** @return int how many transitions were taken */
    public function takeTransitions(TakeMode $mode): int
    {
        $rows = $this->database->connection->fetchAllAssociative(
            'SELECT * FROM transition WHERE taken = 0 ORDER BY at, id LIMIT ' . self::TAKEN_A_ROUND,
        );
        foreach ($rows as $row) {
            $this->each("transition {$row['id']}", fn() => $this->take($row, $mode), fn() => $this->pass((int) $row['id']));
        }
        $this->entities->clear();

        return count($rows);
    }

    /** Whoever is on call hears of a rule that could not be evaluated for so long, and of what was told so nobody stays in doubt when it is over. */
    public function takeProblems(int $nowMs, int $toldAfterMs): void
    {
        foreach ($this->problems->untold($nowMs - $toldAfterMs) as $problem) {
            $this->each(
                "problem of rule {$problem->ruleId}",
                fn() => $this->database->transaction(fn() => $this->tellProblem($problem, $nowMs)),
            );
        }
        foreach ($this->problems->toldAndOver() as $ruleId) {
            $this->each(
                "problem of rule {$ruleId}",
                fn() => $this->database->transaction(fn() => $this->endProblem($ruleId, $nowMs)),
            );
        }
        $this->entities->clear();
    }

    /**
     * One that cannot be handled is set aside with its reason; the others are handled all the same.
     *
     * @param callable(): mixed        $handle
     * @param (callable(): mixed)|null $pass   so that it does not come up again
     */
    private function each(string $subject, callable $handle, ?callable $pass = null): void
    {
        try {
            $handle();
        } catch (\Throwable $error) {
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            $this->logger->error('The {subject} was set aside: {exception}', ['subject' => $subject, 'exception' => $error]);
            $this->database->recover();
            $this->aside->put('dispatcher', $subject, $error->getMessage(), Clock::nowMs());
            $pass === null || $pass();
        }
    }

    /** @param array<string, mixed> $row */
    private function take(array $row, TakeMode $mode): void
    {
        $this->database->transaction(function (Connection $connection) use ($row, $mode): void {
            $rule = $this->entities->find(Rule::class, (int) $row['rule_id']);
            if (
                $connection->executeStatement('UPDATE transition SET taken = 1 WHERE id = ? AND taken = 0', [$row['id']]) === 1
                && $rule !== null
            ) {
                $this->apply($row, $rule, $mode);
                $this->entities->flush();
            }
        });
    }

    private function pass(int $transitionId): void
    {
        $this->database->connection->executeStatement('UPDATE transition SET taken = 1 WHERE id = ?', [$transitionId]);
    }

    private function tellProblem(RuleProblem $problem, int $nowMs): void
    {
        if (!$this->problems->markTold($problem->ruleId, $nowMs)) {
            return;
        }
        $title = self::fitting("The rule {$problem->rule} cannot be evaluated: {$problem->message}");
        $incident = $this->openIncident(self::OWN_SERVICE);
        $isNew = $incident === null;
        if ($incident === null) {
            $incident = new Incident(self::OWN_SERVICE, $title, Severity::Major, $nowMs, false);
            $this->entities->persist($incident);
        }
        $this->entities->flush();
        $this->database->upsert(
            'incident_alert',
            [...self::ALERT_COLUMNS, 'kind', 'words'],
            [
                [
                    $incident->id(),
                    $problem->ruleId,
                    self::BROKEN,
                    '{}',
                    $problem->sinceMs,
                    $nowMs,
                    null,
                    Severity::Major->value,
                    null,
                    null,
                    0,
                    '',
                    'broken',
                    mb_substr($problem->message, 0, 1000),
                ],
            ],
        );
        $words = sprintf('%s, since %s', $title, Quantity::span($nowMs - $problem->sinceMs));
        $this->trail->add(
            $incident->id(),
            $nowMs,
            TrailKind::Alert,
            $isNew ? $words : "{$words}; the same incident, as it is Olivine's own matter",
        );
    }

    private function endProblem(int $ruleId, int $nowMs): void
    {
        if (!$this->problems->drop($ruleId)) {
            return;
        }
        $rows = $this->database->connection->fetchFirstColumn(
            'SELECT incident_id FROM incident_alert WHERE rule_id = ? AND labels_hash = ? AND cleared_at IS NULL',
            [$ruleId, self::BROKEN],
        );
        foreach ($rows as $id) {
            $incident = $this->held((int) $id);
            $rule = $this->entities->find(Rule::class, $ruleId);
            $this->trail->add(
                $incident->id(),
                $nowMs,
                TrailKind::Alert,
                $rule === null
                    ? 'the rule is not there any more'
                    : ($rule->enabled
                        ? "the rule {$rule->name} is evaluated again"
                        : "the rule {$rule->name} was switched off"),
            );
            $this->endAlert($incident, $ruleId, self::BROKEN, $nowMs, Phase::Calm, TakeMode::Live);
        }
        $this->entities->flush();
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
            $this->raise(
                $rule,
                $labels,
                (string) $row['labels_hash'],
                $at,
                $onset,
                $severity ?? $rule->severity,
                $value,
                $mode,
                false,
            );
        } elseif ($to === Phase::Blind && $open === null && $severity !== null) {
            $this->raise($rule, $labels, (string) $row['labels_hash'], $at, $onset, $severity, null, $mode, true);
        } elseif ($open !== null && ($to === Phase::Calm || $to->isOver())) {
            $this->end($rule, $labels, $open, (string) $row['labels_hash'], $at, $value, $to, (string) $row['why'], $mode);
        } elseif ($open !== null) {
            $this->follow($rule, $labels, $open, (string) $row['labels_hash'], $at, $from, $to, $severity, $value, $mode);
        }
    }

    private function raise(
        Rule $rule,
        LabelSet $labels,
        string $hash,
        int $at,
        int $onset,
        Severity $severity,
        ?float $value,
        TakeMode $mode,
        bool $blind,
    ): void {
        $unit = $this->unit($rule);
        $title = $blind ? IncidentSentence::blind($rule, $labels) : IncidentSentence::raised($rule, $labels, $unit);
        $service =
            $rule->service !== '' ? $rule->service : ($labels->get('service') !== '' ? $labels->get('service') : 'no service');
        $service = self::fitting($service, self::LONGEST_SERVICE);
        $incident = $this->openIncident($service);
        $isNew = $incident === null;
        if ($incident === null) {
            $incident = new Incident($service, self::fitting($title), $severity, $at, $mode === TakeMode::Replay);
            $this->entities->persist($incident);
            $this->entities->flush();
        }
        $this->database->insertNew('incident_alert', self::ALERT_COLUMNS, [
            [
                $incident->id(),
                $rule->id(),
                $hash,
                AlertStore::json($labels),
                $onset,
                $at,
                null,
                $severity->value,
                $value,
                $value,
                (int) $blind,
                mb_substr($labels->get('target'), 0, 200),
            ],
        ]);
        $this->database->connection->executeStatement(
            "UPDATE incident_alert SET cleared_at = NULL, ended = '', raised_at = ?, severity = ?
             WHERE incident_id = ? AND rule_id = ? AND labels_hash = ? AND cleared_at IS NOT NULL",
            [$at, $severity->value, $incident->id(), $rule->id(), $hash],
        );
        if (!$blind && $onset < $at) {
            $this->trail->add(
                $incident->id(),
                $onset,
                TrailKind::Alert,
                sprintf(
                    '%s went %s %s',
                    $rule->name . IncidentSentence::where($labels),
                    $rule->direction->value,
                    Quantity::words($rule->limit, $unit),
                ),
            );
        }
        $this->trail->add(
            $incident->id(),
            $at,
            TrailKind::Alert,
            sprintf(
                'raised as %s%s%s',
                $severity->value,
                $value === null ? ', no readings' : ' at ' . Quantity::words($value, $unit),
                $isNew ? '' : ': ' . $title . '; same service, so the same incident',
            ),
        );
        if ($isNew) {
            $mode === TakeMode::Live
                ? $this->trail->add(
                    $incident->id(),
                    $at,
                    TrailKind::Alert,
                    sprintf(
                        'gathers alerts of %s for %s before anyone is told',
                        $service,
                        Quantity::span($this->plan->gatherMs()),
                    ),
                )
                : $this->trail->add(
                    $incident->id(),
                    $at,
                    TrailKind::HeldBack,
                    'found by replaying recorded readings: nobody was told',
                );
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
    private function follow(
        Rule $rule,
        LabelSet $labels,
        array $open,
        string $hash,
        int $at,
        Phase $from,
        Phase $to,
        ?Severity $severity,
        ?float $value,
        TakeMode $mode,
    ): void {
        $unit = $this->unit($rule);
        $words = match (true) {
            $to === Phase::Easing => sprintf(
                'back at %s, %s %s; clears if it lasts %s',
                Quantity::words($value ?? 0.0, $unit),
                $rule->direction->opposite()->value,
                Quantity::words($rule->clearLimit, $unit),
                Quantity::span($rule->clearHoldSeconds * 1000),
            ),
            $to === Phase::Raised && $from === Phase::Easing => sprintf(
                'past the clear limit again at %s, stays raised',
                Quantity::words($value ?? 0.0, $unit),
            ),
            $to === Phase::Raised && $from === Phase::Raised => sprintf(
                'worse: %s at %s',
                $severity === null ? '' : $severity->value,
                Quantity::words($value ?? 0.0, $unit),
            ),
            $to === Phase::Blind => 'no readings any more; last known as raised',
            $to === Phase::Raised => 'readings are back and past the limit',
            default => "{$from->value} → {$to->value}",
        };
        $this->trail->add(
            $open['incident']->id(),
            $at,
            TrailKind::Alert,
            $words .
                ($from === Phase::Raised && $to === Phase::Raised
                    ? ''
                    : ' (' . $rule->name . IncidentSentence::where($labels) . ')'),
        );
        if ($severity !== null && $severity->isWorseThan($open['severity'])) {
            $this->database->connection->executeStatement(
                'UPDATE incident_alert SET severity = ? WHERE incident_id = ? AND rule_id = ? AND labels_hash = ?',
                [$severity->value, $open['incident']->id(), $rule->id(), $hash],
            );
            if ($severity->isWorseThan($open['incident']->severity)) {
                $this->worsen($open['incident'], $severity, IncidentSentence::raised($rule, $labels, $unit), $at, $mode);
            }
        }
    }

    /** @param array{incident: Incident, severity: Severity, blind: bool} $open */
    private function end(
        Rule $rule,
        LabelSet $labels,
        array $open,
        string $hash,
        int $at,
        ?float $value,
        Phase $end,
        string $why,
        TakeMode $mode,
    ): void {
        $name = $rule->name . IncidentSentence::where($labels);
        $this->trail->add(
            $open['incident']->id(),
            $at,
            TrailKind::Alert,
            match ($end) {
                Phase::Lost => sprintf(
                    'lost from sight: %s has brought no readings for %s; nobody knows how it is',
                    $name,
                    Quantity::span($rule->lostAfterSeconds * 1000),
                ),
                Phase::Ended => "ended: {$name}; {$why}",
                default => 'cleared' .
                    ($value === null ? '' : ' at ' . Quantity::words($value, $this->unit($rule))) .
                    ": {$name}",
            },
        );
        $this->endAlert($open['incident'], $rule->id(), $hash, $at, $end, $mode);
    }

    /** Where it was the last one of its incident, that is over too, and whoever was told hears how: cleared, or lost from sight. */
    private function endAlert(Incident $incident, int $ruleId, string $hash, int $at, Phase $end, TakeMode $mode): void
    {
        $connection = $this->database->connection;
        $connection->executeStatement(
            'UPDATE incident_alert SET cleared_at = ?, ended = ? WHERE incident_id = ? AND rule_id = ? AND labels_hash = ?',
            [$at, $end->value, $incident->id(), $ruleId, $hash],
        );
        $left = (int) $connection->fetchOne('SELECT COUNT(*) FROM incident_alert WHERE incident_id = ? AND cleared_at IS NULL', [
            $incident->id(),
        ]);
        if ($left > 0) {
            return;
        }
        $ends = $connection->fetchFirstColumn('SELECT DISTINCT ended FROM incident_alert WHERE incident_id = ?', [
            $incident->id(),
        ]);
        $incident->status = IncidentStatus::Resolved;
        $incident->resolvedAt = $at;
        $isLost = in_array(Phase::Lost->value, $ends, true);
        $isQuiet = $ends === [Phase::Ended->value];
        $lasted = Quantity::span($at - $incident->openedAt);
        $this->trail->add(
            $incident->id(),
            $at,
            $isQuiet ? TrailKind::HeldBack : TrailKind::Alert,
            match (true) {
                $isLost => "over without an end, after {$lasted}: sight of some of it was lost",
                $isQuiet => "over after {$lasted}: all it looked at was paused, removed or is looked at no more; nobody is told",
                default => "resolved: every alert cleared, after {$lasted}",
            },
        );
        if ($mode === TakeMode::Live && !$incident->replayed && !$isQuiet) {
            $isLost ? $this->plan->tellLost($incident, $at) : $this->plan->tellRecovery($incident, $at);
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
        return $incident->status === IncidentStatus::Resolved
            ? null
            : ['incident' => $incident, 'severity' => Severity::from((string) $row['severity']), 'blind' => (bool) $row['blind']];
    }

    private function openIncident(string $service): ?Incident
    {
        $id = $this->database->connection->fetchOne(
            'SELECT id FROM incident WHERE service = ? AND status <> ? ORDER BY id DESC LIMIT 1 FOR UPDATE',
            [$service, IncidentStatus::Resolved->value],
        );

        return $id === false ? null : $this->held((int) $id);
    }

    /** As it is now, and nobody else changes it until the transaction is over: whoever resolves it does so before or after. */
    private function held(int $id): Incident
    {
        return $this->entities->find(Incident::class, $id, LockMode::PESSIMISTIC_WRITE) ??
            throw new \LogicException("Incident {$id} is gone");
    }

    private static function fitting(string $text, int $longest = self::LONGEST_TITLE): string
    {
        return mb_substr($text, 0, $longest);
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

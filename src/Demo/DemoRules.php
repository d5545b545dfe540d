<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Olivine\App\Rule\Definition\AbsenceFields;
use Olivine\App\Rule\Definition\ChangeFields;
use Olivine\App\Rule\Definition\DepartureFields;
use Olivine\App\Rule\Definition\ForecastFields;
use Olivine\App\Rule\Definition\LimitFields;
use Olivine\App\Rule\Definition\Measure;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\ThresholdFields;
use Olivine\App\Rule\Definition\TogetherFields;
use Olivine\App\Rule\Definition\UsualOf;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Way;

/** The rules that Saltmarsh Ferries starts with. */
final class DemoRules
{
    private const RUNBOOKS = 'https://runbooks.saltmarsh.example/';
    private const OWNERS = ['boarding-gate' => 'piers', 'tickets' => 'tickets', 'platform' => 'platform'];

    /** @return list<RuleDefinition> */
    public static function all(): array
    {
        return [
            self::rule(
                'Boarding queue',
                'mean(messaging_queue_depth where queue = "boarding", 1m)',
                Severity::Major,
                400,
                60,
                300,
                120,
                'boarding-gate',
                'boarding-queue',
                worse: [1_200, Severity::Critical],
                blind: Severity::Minor,
                dependsOn: ['Share of good scrapes'],
            ),
            self::rule(
                'Gate memory over its limit',
                'mean(container_memory_usage_bytes, 2m) / container_memory_limit_bytes',
                Severity::Major,
                0.9,
                60,
                0.8,
                120,
                'boarding-gate',
                'gate-memory',
                step: 30,
            ),
            self::rule(
                'Gate restarts in an hour',
                'growth(container_restarts_total, 1h)',
                Severity::Minor,
                2,
                0,
                1,
                300,
                'boarding-gate',
                'gate-restarts',
                step: 60,
            ),
            self::rule(
                'Disk in use',
                '(system_filesystem_usage_bytes where state = "used" and service != "own") / system_filesystem_limit_bytes',
                Severity::Minor,
                0.88,
                300,
                0.8,
                300,
                '',
                'disk-full',
                worse: [0.95, Severity::Major],
                step: 60,
            ),
            self::rule(
                'Web processors',
                'mean(system_cpu_utilization_ratio where service = "tickets", 5m)',
                Severity::Warning,
                0.72,
                600,
                0.6,
                600,
                'tickets',
                'web-hot',
            ),
            self::rule(
                'Network errors a second',
                'rate(system_network_errors_total where direction = "receive", 5m)',
                Severity::Minor,
                0.2,
                300,
                0.05,
                600,
                '',
                'network-flaps',
                step: 30,
            ),
            self::rule(
                'Age of the last backup',
                'now() - backup_last_success_timestamp_seconds',
                Severity::Major,
                100_800,
                0,
                100_000,
                0,
                'platform',
                'backup',
            ),
            self::rule(
                'Share of good scrapes',
                'olivine_scrape_success',
                Severity::Minor,
                0.5,
                45,
                0.5,
                30,
                '',
                'target-silent',
                direction: Side::Below,
            ),
            self::rule(
                'Down, seen from outside',
                'max(max(check_runs, 1m)) per service, target',
                Severity::Major,
                0.5,
                15,
                0.5,
                30,
                '',
                'seen-from-outside',
                direction: Side::Below,
            ),
            self::rule('Runs that did not come', 'max(job_runs_missing) per service, target', Severity::Minor, 0, 0, 0, 0, '', 'job', step: 30),
            self::rule('Runs that failed', 'max(job_runs_failed) per service, target', Severity::Warning, 0, 0, 0, 0, '', 'job', step: 30),
            self::rule('Runs that take too long', 'max(job_overlong) per service, target', Severity::Warning, 0, 0, 0, 0, '', 'job', step: 30),
            self::rule(
                'Something fails, seen from outside',
                'max(min(check_partly, 2m)) per service, target',
                Severity::Minor,
                0.5,
                0,
                0.5,
                60,
                '',
                'seen-from-outside',
            ),
            self::rule(
                'Replication lag',
                'max(db_replication_lag_seconds, 5m)',
                Severity::Warning,
                0.5,
                300,
                0.3,
                300,
                '',
                'replication',
            ),
            ...self::others(),
        ];
    }

    /** @return list<RuleDefinition> those that hold what they watch against something else than a limit */
    private static function others(): array
    {
        return [
            new RuleDefinition(
                name: 'Web server unlike its twins',
                formula: 'mean(system_cpu_utilization_ratio where service = "tickets", 5m)',
                condition: new DepartureFields(
                    UsualOf::Twins,
                    Way::Rises,
                    [new LimitFields(Severity::Minor, 6)],
                    4,
                    least: 0.15,
                    per: ['service'],
                ),
                holdSeconds: 600,
                clearHoldSeconds: 600,
                stepSeconds: 30,
                service: 'tickets',
                owner: 'tickets',
                runbook: self::RUNBOOKS . 'web-hot',
            ),
            new RuleDefinition(
                name: 'Ticket requests',
                formula: 'sum(rate(http_server_request_duration_seconds_count where service = "tickets", 5m))',
                condition: new DepartureFields(
                    UsualOf::SameHour,
                    Way::Moves,
                    [new LimitFields(Severity::Minor, 8)],
                    5,
                    least: 5,
                    spanSeconds: 604_800,
                    warmUpSeconds: 172_800,
                ),
                holdSeconds: 900,
                clearHoldSeconds: 900,
                stepSeconds: 60,
                service: 'tickets',
                owner: 'tickets',
                runbook: self::RUNBOOKS . 'ticket-requests',
            ),
            new RuleDefinition(
                name: 'Hot web server that its twins are not',
                formula: 'raised("Web processors") and raised("Web server unlike its twins")',
                condition: new ThresholdFields(Side::Above, [new LimitFields(Severity::Minor, 0)], 0),
                holdSeconds: 60,
                clearHoldSeconds: 60,
                service: 'tickets',
                owner: 'tickets',
                runbook: "1. Look at what runs there that does not run on its twins.\n2. Take it out of the balancer while you do.\n" .
                    '3. Put it back when its processors are below **60 %**.',
            ),
            new RuleDefinition(
                name: 'Disk',
                formula: '(system_filesystem_usage_bytes where state = "used" and service != "own") / system_filesystem_limit_bytes',
                condition: new ForecastFields(Side::Above, [new LimitFields(Severity::Warning, 0.9)], 0.85),
                holdSeconds: 1_800,
                clearHoldSeconds: 3_600,
                stepSeconds: 300,
                owner: 'platform',
                runbook: self::RUNBOOKS . 'disk-full',
            ),
            new RuleDefinition(
                name: 'Memory of gates',
                formula: 'sum(container_memory_usage_bytes where service = "boarding-gate") per site',
                condition: new ChangeFields(Way::Rises, Measure::Share, [new LimitFields(Severity::Warning, 0.5)], 0.2, 3_600),
                holdSeconds: 300,
                clearHoldSeconds: 300,
                stepSeconds: 60,
                service: 'boarding-gate',
                owner: 'piers',
                runbook: self::RUNBOOKS . 'gate-memory',
            ),
            new RuleDefinition(
                name: 'Gate',
                formula: 'container_memory_usage_bytes where service = "boarding-gate"',
                condition: new AbsenceFields(Severity::Minor),
                holdSeconds: 600,
                clearHoldSeconds: 60,
                stepSeconds: 60,
                service: 'boarding-gate',
                owner: 'piers',
                runbook: self::RUNBOOKS . 'gate-silent',
            ),
            new RuleDefinition(
                name: 'Gates restarting together',
                formula: 'growth(container_restarts_total, 15m)',
                condition: new ThresholdFields(Side::Above, [new LimitFields(Severity::Major, 0)], 0),
                clearHoldSeconds: 900,
                stepSeconds: 60,
                service: 'boarding-gate',
                owner: 'piers',
                runbook: self::RUNBOOKS . 'gate-restarts',
                together: new TogetherFields([], share: 0.33),
            ),
        ];
    }

    /**
     * @param array{float|int, Severity}|null $worse
     * @param list<string>                    $dependsOn
     */
    private static function rule(
        string $name,
        string $formula,
        Severity $severity,
        float $limit,
        int $hold,
        float $clear,
        int $clearHold,
        string $service,
        string $runbook,
        ?array $worse = null,
        ?Severity $blind = null,
        Side $direction = Side::Above,
        array $dependsOn = [],
        int $step = 15,
    ): RuleDefinition {
        $limits = [new LimitFields($severity, $limit)];
        if ($worse !== null) {
            $limits[] = new LimitFields($worse[1], (float) $worse[0]);
        }

        return new RuleDefinition(
            name: $name,
            formula: $formula,
            condition: new ThresholdFields($direction, $limits, $clear),
            holdSeconds: $hold,
            clearHoldSeconds: $clearHold,
            stepSeconds: $step,
            blindSeverity: $blind,
            service: $service,
            owner: self::OWNERS[$service] ?? '',
            runbook: self::RUNBOOKS . $runbook,
            dependsOn: $dependsOn,
        );
    }
}

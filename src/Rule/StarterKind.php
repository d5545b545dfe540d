<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;

/** What nearly everybody who runs such a thing has a rule for: what it looks at, why, and how its limit is found. */
enum StarterKind: string
{
    case HostSilent = 'Silent target';
    case HostBusy = 'Processors busy';
    case HostMemory = 'Memory nearly gone';
    case HostDisk = 'Disk will be full';
    case ContainerMemory = 'Container near its memory limit';
    case ContainerRestarts = 'Container restarts';
    case BrokerQueue = 'Queue backs up';
    case BrokerConsumers = 'Queue without consumers';
    case DatabaseLag = 'Replica falls behind';
    case DatabaseCache = 'Database reads from disk';
    case WebSlow = 'Answers are slow';
    case Certificate = 'Certificate runs out';

    public function thing(): string
    {
        return match ($this) {
            self::HostSilent => 'every target',
            self::HostBusy, self::HostMemory, self::HostDisk => 'host',
            self::ContainerMemory, self::ContainerRestarts => 'container',
            self::BrokerQueue, self::BrokerConsumers => 'broker',
            self::DatabaseLag, self::DatabaseCache => 'database',
            self::WebSlow => 'web server',
            self::Certificate => 'certificate',
        };
    }

    public function formula(): string
    {
        return match ($this) {
            self::HostSilent => 'olivine_scrape_success',
            self::HostBusy => 'mean(system_cpu_utilization_ratio, 5m)',
            self::HostMemory => 'mean(system_memory_available_bytes, 5m) / system_memory_limit_bytes',
            self::HostDisk => 'system_filesystem_usage_bytes / system_filesystem_limit_bytes',
            self::ContainerMemory => 'mean(container_memory_usage_bytes, 5m) / container_memory_limit_bytes',
            self::ContainerRestarts => 'growth(container_restarts_total, 1h)',
            self::BrokerQueue => 'mean(messaging_queue_depth, 5m)',
            self::BrokerConsumers => 'max(messaging_queue_consumers, 5m)',
            self::DatabaseLag => 'min(db_replication_lag_seconds, 5m)',
            self::DatabaseCache => 'mean(db_cache_hit_ratio, 15m)',
            self::WebSlow => 'percentile(95, http_server_request_duration_seconds, 5m) per service',
            self::Certificate => 'tls_certificate_expiry_seconds - now()',
        };
    }

    public function reason(): string
    {
        return match ($this) {
            self::HostSilent => 'What does not answer tells nothing, and no other rule would notice.',
            self::HostBusy => 'What is busy for a quarter of an hour makes all on it wait.',
            self::HostMemory => 'Without memory the system ends whatever it likes.',
            self::HostDisk => 'A full disk stops everything at once; a day is enough to act.',
            self::ContainerMemory => 'At its limit a container is ended.',
            self::ContainerRestarts => 'What starts again and again looks healthy in between.',
            self::BrokerQueue => 'What waits is work that somebody waits for.',
            self::BrokerConsumers => 'Nobody takes anything out: it will back up.',
            self::DatabaseLag => 'Reads from a replica that is behind are wrong.',
            self::DatabaseCache => 'What does not fit into memory is read from disk, a hundred times as slowly.',
            self::WebSlow => 'One in twenty waits at least as long.',
            self::Certificate => 'From that minute on nobody gets in.',
        };
    }

    public function side(): Side
    {
        return match ($this) {
            self::HostSilent, self::HostMemory, self::BrokerConsumers, self::DatabaseCache, self::Certificate => Side::Below,
            default => Side::Above,
        };
    }

    public function severity(): Severity
    {
        return match ($this) {
            self::HostSilent, self::HostMemory, self::HostDisk, self::BrokerQueue, self::BrokerConsumers => Severity::Major,
            default => Severity::Minor,
        };
    }

    /** @return array{float, float, float} a little beyond what was seen, times this, and between these two */
    public function room(): array
    {
        return match ($this) {
            self::HostBusy => [1.15, 0.7, 0.95],
            self::HostMemory => [0.7, 0.03, 0.15],
            self::BrokerQueue => [1.5, 20.0, INF],
            self::DatabaseLag => [3.0, 1.0, INF],
            self::DatabaseCache => [0.95, 0.5, 0.99],
            self::WebSlow => [1.5, 0.05, INF],
            self::HostSilent => [0.0, 1.0, 1.0],
            self::HostDisk => [0.0, 0.95, 0.95],
            self::ContainerMemory => [0.0, 0.9, 0.9],
            self::ContainerRestarts => [0.0, 2.0, 2.0],
            self::BrokerConsumers => [0.0, 1.0, 1.0],
            self::Certificate => [0.0, 1_209_600.0, 1_209_600.0],
        };
    }

    public function holdSeconds(): int
    {
        return match ($this) {
            self::HostBusy => 900,
            self::HostDisk => 1_800,
            self::HostMemory => 600,
            self::ContainerRestarts, self::Certificate => 0,
            default => 300,
        };
    }

    /** How often it looks: what takes days to come needs no look every quarter of a minute. */
    public function stepSeconds(): int
    {
        return match ($this) {
            self::HostDisk, self::Certificate => 300,
            default => 15,
        };
    }

    /** The share of the limit at which all is well again. */
    public function back(): float
    {
        return match ($this) {
            self::HostSilent, self::BrokerConsumers, self::Certificate => 1.0,
            self::ContainerRestarts => 0.0,
            self::DatabaseCache => 1.02,
            default => $this->side() === Side::Above ? 0.85 : 1.2,
        };
    }
}

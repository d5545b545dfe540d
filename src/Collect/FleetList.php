<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Answer\GroupName;
use Olivine\App\Collect\Answer\Target as ShownTarget;
use Olivine\App\Collect\Answer\TargetSettings;
use Olivine\App\Collect\Answer\TargetStatus;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Series\LabelSet;

/** Targets as the screens show them: thousands in one answer, so they come in one query and are no entities. */
final readonly class FleetList
{
    private const COLUMNS = <<<'SQL'
    SELECT t.id, t.name, t.kind, t.url, t.interval_seconds, t.timeout_seconds, t.labels, t.own_labels, t.inherits,
        t.paused, t.version, g.id AS group_id, g.name AS group_name,
        IF(JSON_CONTAINS(t.inherits, '"credential"'), g.credential, t.credential) AS credential,
        s.at, s.ok, s.ok_at, s.form, s.seconds, s.bytes, s.readings, s.message, s.refused, s.notice, s.ticks,
        IF(t.kind = 'scrape', '', (SELECT GROUP_CONCAT(c.verdict) FROM check_state c WHERE c.target_id = t.id)) AS verdicts
    FROM target t LEFT JOIN target_group g ON g.id = t.group_id LEFT JOIN target_status s ON s.target_id = t.id
    SQL;

    public function __construct(private Connection $connection, private TargetForm $form, private Clock $clock = new Clock())
    {
    }

    /** @return list<ShownTarget> all that are not removed, by name, with how their last scrapes went */
    public function all(): array
    {
        $now = $this->clock->now()->ms;
        $shown = [];
        foreach ($this->connection->iterateAssociative(self::COLUMNS . ' WHERE t.removed_at IS NULL ORDER BY t.name') as $row) {
            $shown[] = new ShownTarget($this->settings($row), self::status($row, $now), Scalar::text($row['ticks'] ?? ''));
        }

        return $shown;
    }

    /** What is set of one of them. */
    public function one(int $id): TargetSettings
    {
        $row = $this->connection->fetchAssociative(self::COLUMNS . ' WHERE t.id = ?', [$id]);

        return $row === false ? throw new \LogicException("Target {$id} is gone") : $this->settings($row);
    }

    /** @param array<string, mixed> $row */
    private function settings(array $row): TargetSettings
    {
        return new TargetSettings(
            id: Scalar::int($row['id']),
            name: Scalar::text($row['name']),
            kind: Scalar::text($row['kind']),
            url: Scalar::text($row['url']),
            intervalSeconds: Scalar::int($row['interval_seconds']),
            timeoutSeconds: Scalar::int($row['timeout_seconds']),
            labels: self::labels($row['labels']),
            ownLabels: self::labels($row['own_labels']),
            group: $row['group_id'] === null
                ? null
                : new GroupName(Scalar::int($row['group_id']), Scalar::text($row['group_name'])),
            inherits: self::names(Scalar::text($row['inherits'])),
            credential: $this->form->shownCredential($row['credential'] === null ? null : Scalar::text($row['credential'])),
            paused: (bool) $row['paused'],
            version: Scalar::int($row['version']),
        );
    }

    /** @param array<string, mixed> $row */
    private static function status(array $row, int $nowMs): ?TargetStatus
    {
        if ($row['at'] === null) {
            return null;
        }
        $staleMs = 1000 * Target::STALE_INTERVALS * Scalar::int($row['interval_seconds']);

        return new TargetStatus(
            at: Scalar::int($row['at']),
            ok: (bool) $row['ok'],
            overdue: Scalar::int($row['paused']) === 0 && Scalar::int($row['at']) < $nowMs - $staleMs,
            okAt: $row['ok_at'] === null ? null : Scalar::int($row['ok_at']),
            form: Scalar::text($row['form']),
            seconds: Scalar::float($row['seconds']),
            bytes: Scalar::int($row['bytes']),
            readings: Scalar::int($row['readings']),
            message: Scalar::text($row['message']),
            refused: Scalar::int($row['refused']),
            notice: Scalar::text($row['notice']),
            verdict: $row['kind'] === SourceKind::Job->value
                ? (Tick::lastOf(Scalar::text($row['ticks'])) === Tick::Refused ? Verdict::Partly->value : '')
                : self::worst(Scalar::text($row['verdicts'] ?? '')),
        );
    }

    /** @param string $verdicts with commas between */
    private static function worst(string $verdicts): string
    {
        $worst = null;
        foreach ($verdicts === '' ? [] : explode(',', $verdicts) as $one) {
            $verdict = Verdict::tryFrom($one) ?? Verdict::Unknown;
            $worst = $worst === null ? $verdict : $worst->worse($verdict);
        }

        return $worst->value ?? '';
    }

    private static function labels(mixed $json): LabelSet
    {
        /** @var array<string, string> $labels */
        $labels = json_decode(Scalar::text($json), true, 4, JSON_THROW_ON_ERROR);

        return LabelSet::of($labels);
    }

    /** @return list<string> */
    private static function names(string $json): array
    {
        /** @var list<string> */
        return json_decode($json, true, 4, JSON_THROW_ON_ERROR);
    }
}

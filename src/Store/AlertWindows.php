<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;

/** The alerts of a rule as readings, out of what is written down of their past; of those that never did anything it is known that they are there. */
final readonly class AlertWindows
{
    public function __construct(private Connection $connection)
    {
    }

    /** @return list<Window> in `(afterMs, throughMs]`, the first of each at the instant after */
    public function of(string $rule, int $afterMs, int $throughMs): array
    {
        $id = $this->connection->fetchOne('SELECT id FROM rule WHERE name = ?', [$rule]);
        if ($id === false) {
            return [];
        }
        $labels = [];
        $states = [];
        $known = $this->connection->fetchAllNumeric('SELECT labels_hash, labels FROM alert WHERE rule_id = ?', [$id]);
        foreach ($known as [$hash, $json]) {
            $labels[Scalar::text($hash)] = Scalar::text($json);
        }
        foreach ($this->moved(Scalar::int($id), $afterMs, $throughMs) as [$hash, $json, $at, $phase]) {
            $key = Scalar::text($hash);
            $labels[$key] = Scalar::text($json);
            $states[$key][max($afterMs + 1, Scalar::int($at))] = Phase::from(Scalar::text($phase))->isRaised() ? 1.0 : 0.0;
        }
        $windows = [];
        foreach ($labels as $key => $json) {
            $of = ($states[$key] ?? []) + [$afterMs + 1 => 0.0];
            ksort($of);
            /** @var array<string, string> $read */
            $read = json_decode($json, true, 2, JSON_THROW_ON_ERROR);
            $windows[] = new Window(LabelSet::of($read), array_keys($of), array_values($of), PHP_INT_MAX);
        }

        return $windows;
    }

    /** @return iterable<list<mixed>> what happened within the span, after the last that happened before it, in the order of time */
    private function moved(int $ruleId, int $afterMs, int $throughMs): iterable
    {
        return $this->connection->iterateNumeric(
            'SELECT t.labels_hash, t.labels, t.at, t.to_phase FROM transition t
             LEFT JOIN (SELECT labels_hash, MAX(at) AS at FROM transition WHERE rule_id = ? AND at <= ? GROUP BY labels_hash) b
             ON b.labels_hash = t.labels_hash
             WHERE t.rule_id = ? AND t.at <= ? AND t.at >= COALESCE(b.at, ?) ORDER BY t.at, t.id',
            [$ruleId, $afterMs + 1, $ruleId, $throughMs, $afterMs + 1],
        );
    }
}

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
        $labels = [];
        $states = [];
        foreach ($this->connection->fetchAllNumeric(
            'SELECT a.labels_hash, a.labels FROM alert a JOIN rule r ON r.id = a.rule_id WHERE r.name = ?',
            [$rule],
        ) as [$hash, $json]) {
            $labels[Scalar::text($hash)] = Scalar::text($json);
        }
        foreach ($this->moved($rule, $afterMs, $throughMs) as [$hash, $json, $at, $phase]) {
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
    private function moved(string $rule, int $afterMs, int $throughMs): iterable
    {
        return $this->connection->iterateNumeric(
            'SELECT t.labels_hash, t.labels, t.at, t.to_phase FROM transition t JOIN rule r ON r.id = t.rule_id
             LEFT JOIN (SELECT rule_id, labels_hash, MAX(at) AS at FROM transition WHERE at <= ? GROUP BY rule_id, labels_hash) b
             ON b.rule_id = t.rule_id AND b.labels_hash = t.labels_hash
             WHERE r.name = ? AND t.at <= ? AND t.at >= COALESCE(b.at, ?) ORDER BY t.at, t.id',
            [$afterMs + 1, $rule, $throughMs, $afterMs + 1],
        );
    }
}

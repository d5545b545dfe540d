<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Answer\Cost as CostAnswer;
use Olivine\App\Collect\Answer\CostRow;
use Olivine\App\Collect\Answer\LabelCost;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SlowAnswer;
use Olivine\App\Store\Span;
use Olivine\App\Store\StoreCost;
use Olivine\Core\Time\Instant;

/** What is collected and what it takes, by target, by metric and by label: a look at every series. */
final readonly class Cost implements SlowAnswer
{
    public const NAME = 'cost';
    private const MOST_METRICS = 100;
    private const MOST_LABELS = 10;
    private const RENEW_EVERY_MS = 300_000;

    public function __construct(private Connection $connection, private StoreCost $cost)
    {
    }

    public function name(): string
    {
        return self::NAME;
    }

    public function renewEveryMs(): int
    {
        return self::RENEW_EVERY_MS;
    }

    public function work(Instant $now): CostAnswer
    {
        $average = $this->cost->bytesPerReading();
        $measured = $this->measured($now->ms);
        $targets = [];
        $metrics = [];
        $parts = [];
        $rows = $this->connection->executeQuery(
            'SELECT t.id, t.name, t.interval_seconds, m.id, m.name, s.labels FROM series s JOIN target t ON t.id = s.target_id
             JOIN metric m ON m.id = s.metric_id WHERE t.removed_at IS NULL AND NOT t.paused',
        );
        foreach ($rows->iterateNumeric() as [$id, $target, $interval, $metricId, $metric, $json]) {
            $perSecond = 1 / max(1, Scalar::int($interval));
            $bytesADay = $perSecond * 86_400 * ($measured[Scalar::int($metricId)] ?? $average);
            $targets[Scalar::text($target)] = self::more(
                $targets[Scalar::text($target)] ?? null,
                Scalar::text($target),
                Scalar::int($id),
                $perSecond,
                $bytesADay,
            );
            $metrics[Scalar::text($metric)] = self::more(
                $metrics[Scalar::text($metric)] ?? null,
                Scalar::text($metric),
                Scalar::int($metricId),
                $perSecond,
                $bytesADay,
            );
            /** @var array<string, string> $set */
            $set = json_decode(Scalar::text($json), true, 4, JSON_THROW_ON_ERROR);
            foreach ($set as $name => $value) {
                $parts[$name][Scalar::text($target)]['values'][$value] = true;
                $parts[$name][Scalar::text($target)]['series'] = ($parts[$name][Scalar::text($target)]['series'] ?? 0) + 1;
                $parts[$name][Scalar::text($target)]['bytesADay'] =
                    ($parts[$name][Scalar::text($target)]['bytesADay'] ?? 0.0) + $bytesADay;
            }
        }
        $labels = [];
        foreach ($parts as $name => $byTarget) {
            $label = ['name' => (string) $name, 'values' => 0, 'series' => 0, 'bytesADay' => 0.0];
            foreach ($byTarget as $part) {
                // Were the label gone, its series would fall together within each target; one value alone costs nothing.
                $label['values'] = max($label['values'], count($part['values']));
                $label['series'] += $part['series'];
                $label['bytesADay'] += $part['bytesADay'] * (1 - 1 / count($part['values']));
            }
            if ($label['values'] > 1) {
                $labels[] = $label;
            }
        }
        $byBytes = static fn(array $a, array $b): int => $b['bytesADay'] <=> $a['bytesADay'];
        usort($targets, $byBytes);
        usort($metrics, $byBytes);
        usort($labels, $byBytes);

        return new CostAnswer(
            series: array_sum(array_column($targets, 'series')),
            readingsPerSecond: (float) array_sum(array_column($targets, 'readingsPerSecond')),
            bytesADay: (float) array_sum(array_column($targets, 'bytesADay')),
            bytesPerReading: $average,
            storedBytes: $this->cost->sealedBytes(),
            targets: array_map(self::row(...), $targets),
            metrics: array_map(self::row(...), array_slice($metrics, 0, self::MOST_METRICS)),
            metricsInAll: count($metrics),
            labels: array_map(
                static fn(array $label): LabelCost => new LabelCost(...$label),
                array_slice($labels, 0, self::MOST_LABELS),
            ),
        );
    }

    /** @param array{id: int, name: string, series: int, readingsPerSecond: float, bytesADay: float} $sum */
    private static function row(array $sum): CostRow
    {
        return new CostRow(...$sum);
    }

    /**
     * @param array{id: int, name: string, series: int, readingsPerSecond: float, bytesADay: float}|null $sum
     *
     * @return array{id: int, name: string, series: int, readingsPerSecond: float, bytesADay: float}
     */
    private static function more(?array $sum, string $name, int $id, float $perSecond, float $bytesADay): array
    {
        return [
            'id' => $id,
            'name' => $name,
            'series' => ($sum['series'] ?? 0) + 1,
            'readingsPerSecond' => ($sum['readingsPerSecond'] ?? 0.0) + $perSecond,
            'bytesADay' => ($sum['bytesADay'] ?? 0.0) + $bytesADay,
        ];
    }

    /** @return array<int, float> metric id → bytes a reading took in the last two days, its row included */
    private function measured(int $nowMs): array
    {
        $measured = [];
        $rows = $this->connection->executeQuery(
            'SELECT s.metric_id, SUM(LENGTH(b.packed) + 80) / SUM(b.readings) FROM block b JOIN series s ON s.id = b.series
             WHERE b.from_at >= ? AND b.readings > 0 GROUP BY s.metric_id',
            [Span::dayOf($nowMs) - Span::DAY_MS],
        );
        foreach ($rows->iterateNumeric() as [$metric, $bytes]) {
            $measured[Scalar::int($metric)] = Scalar::float($bytes);
        }

        return $measured;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Answer\CostRow;
use Olivine\App\Collect\Answer\LabelCost;
use Olivine\App\Collect\Cost;
use Olivine\App\Collect\TargetReader;
use Olivine\App\Platform\Database;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Span;
use Olivine\App\Store\StoreCost;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

/** What collecting takes, worked out by hand for a fleet of four. */
final class CostTest extends TestCase
{
    use OverAStore;

    private const NOW = 20_780 * Span::DAY_MS + 3_600_000;
    /** What a reading takes until something is sealed. */
    private const USUAL = 1.3;
    /** (400 packed + 80 of its row) / 100 readings, as the block below has it. */
    private const LOAD = 4.8;

    public function testTargetsMetricsAndLabelsAddUp(): void
    {
        $database = Instance::emptyDatabase('cost');
        $cost = new Cost($database->connection, new StoreCost($database->connection));
        self::assertSame(
            [0, [], [], []],
            [($none = $cost->work(Instant::ofMs(self::NOW)))->series, $none->targets, $none->metrics, $none->labels],
            'nothing is there yet',
        );

        $quick = $this->brings(
            $database,
            'quick',
            15,
            "# TYPE load gauge\nload{cpu=\"1\"} 1\nload{cpu=\"2\"} 1\nload{cpu=\"3\"} 1\nload{cpu=\"4\"} 1\n# TYPE warmth gauge\nwarmth 20\n# EOF\n",
        );
        $this->brings($database, 'slow', 60, "# TYPE load gauge\nload{cpu=\"1\",disk=\"x\"} 1\nload{cpu=\"2\",disk=\"x\"} 1\n# EOF\n");
        $this->brings($database, 'resting', 15, "# TYPE load gauge\nload{cpu=\"9\"} 1\n# EOF\n", ['paused' => 1]);
        $this->brings($database, 'gone', 15, "# TYPE load gauge\nload{cpu=\"9\"} 1\n# EOF\n", ['removed_at' => 1]);
        $block = static fn(int $atMs, int $bytes): array => [
            'series' => $database->connection->fetchOne('SELECT MIN(id) FROM series WHERE target_id = ?', [$quick]),
            'from_at' => $atMs,
            'to_at' => $atMs + 1,
            'readings' => 100,
            'total' => 0,
            'codec' => 1,
            'checksum' => 0,
            'packed' => str_repeat('x', $bytes),
        ];
        $database->connection->insert('block', $block(self::NOW - 4_000_000, 400));
        // What is older than two days tells nothing of what collecting takes now.
        $database->connection->insert('block', $block(self::NOW - 3 * Span::DAY_MS, 60_000));

        $found = $cost->work(Instant::ofMs(self::NOW));
        $load = static fn(int $series, int $seconds): float => (($series * 86_400) / $seconds) * self::LOAD;
        $warmth = 5_760 * self::USUAL;
        self::assertSame(7, $found->series);
        self::assertEqualsWithDelta(5 / 15 + 2 / 60, $found->readingsPerSecond, 1e-9);
        self::assertEqualsWithDelta($load(4, 15) + $warmth + $load(2, 60), $found->bytesADay, 1e-6);
        self::assertRows([['quick', 5, $load(4, 15) + $warmth], ['slow', 2, $load(2, 60)]], $found->targets);
        self::assertRows([['load', 6, $load(4, 15) + $load(2, 60)], ['warmth', 1, $warmth]], $found->metrics);
        self::assertSame(2, $found->metricsInAll);
        // Without cpu the four series of one target would be one, and the two of the other; disk and target tell none apart.
        self::assertRows([['cpu', 6, $load(3, 15) + $load(1, 60)]], $found->labels);
        self::assertSame(4, $found->labels[0]->values, 'the most within one target');
    }

    public function testTheTenDearestLabelsAreToldAndTheDearestFirst(): void
    {
        $database = Instance::emptyDatabase('cost');
        $text = "# TYPE x gauge\n";
        foreach (range(1, 13) as $label) {
            foreach (range(1, $label + 1) as $value) {
                $text .= "x{l{$label}=\"{$value}\"} 1\n";
            }
        }
        $this->brings($database, 'wide', 60, "{$text}# EOF\n");
        $labels = array_column((new Cost($database->connection, new StoreCost($database->connection)))->work(Instant::ofMs(self::NOW))->labels, 'name');
        self::assertSame(['l13', 'l12', 'l11', 'l10', 'l9', 'l8', 'l7', 'l6', 'l5', 'l4'], $labels);
    }

    /** @param array<string, int> $set */
    private function brings(Database $database, string $name, int $seconds, string $text, array $set = []): int
    {
        $target = $this->target($database, $name, $seconds);
        (new TargetReader($target, new SeriesRegister($database)))->read($text, Form::OpenMetrics, self::NOW);
        if ($set !== []) {
            $database->connection->update('target', $set, ['id' => $target->id()]);
        }

        return $target->id();
    }

    /**
     * @param list<array{string, int, float}> $expected name, series, bytes a day
     * @param list<CostRow|LabelCost>         $rows
     */
    private static function assertRows(array $expected, array $rows): void
    {
        self::assertSame(
            array_map(static fn(array $row): array => [$row[0], $row[1]], $expected),
            array_map(static fn(CostRow|LabelCost $row): array => [$row->name, $row->series], $rows),
        );
        foreach ($expected as $i => [$name, , $bytes]) {
            self::assertEqualsWithDelta($bytes, $rows[$i]->bytesADay, 1e-6, $name);
        }
    }
}

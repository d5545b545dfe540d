<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Demo\HistoryLoader;
use Olivine\App\Platform\Database;
use Olivine\App\Store\BlockWriter;
use Olivine\App\Store\HotReadings;
use Olivine\App\Store\Partitions;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Span;
use Olivine\App\Store\StoredReadings;
use Olivine\App\Store\StoredRollups;
use Olivine\Core\Exposition\Family;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Series\Window;
use PHPUnit\Framework\TestCase;

/** Windows that are carried on from the newest rows, beside the same windows read anew, whatever comes, goes and ends in between. */
final class HotReadingsTest extends TestCase
{
    use OverAStore;

    private const WINDOW_MS = 300_000;
    private const STEP_MS = 15_000;

    public function testWindowsCarriedOnAreThoseReadAnew(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 1));
        $database = Instance::emptyDatabase('hot');
        $now = intdiv((int) (microtime(true) * 1000), self::STEP_MS) * self::STEP_MS;
        (new Partitions($database->connection))->cover($now - Span::DAY_MS, $now + Span::DAY_MS);
        $index = new SeriesIndex($database->connection);
        $stored = new StoredReadings($database->connection, $index, new StoredRollups($database->connection));
        $hot = new HotReadings($stored, $index);
        $what = new Select(new Place(0, 5), 'depth', null);
        $targets = [$this->target($database, 'pier'), $this->target($database, 'quay')];
        $compared = 0;
        for ($step = 0; $step < 60; ++$step) {
            $at = $now - 480_000 + $step * intdiv(self::STEP_MS, 2);
            foreach ($targets as $place => $target) {
                // A berth more now and then, and a scrape that fails.
                if (mt_rand(0, 9) > 0) {
                    $this->scrape($database, $target, 3 + $place + intdiv($step, 20), $at - mt_rand(1, 900));
                }
            }
            if (mt_rand(0, 3) === 0) {
                continue;
            }
            $index->reset();
            $mayGoBack = $step > 5 && mt_rand(0, 12) === 0 ? self::STEP_MS : 0;
            $through = $at - $mayGoBack;
            $after = $through - self::WINDOW_MS;
            $expected = self::plain($stored->windows($what, $after, $through), $after);
            self::assertSame($expected, self::plain($hot->windows($what, $after, $through), $after), "step {$step}");
            $compared += count($expected);
        }
        self::assertGreaterThan(200, $compared);
        $hot->forget($what);
        self::assertSame(
            self::plain($stored->windows($what, $now - 60_000, $now), $now - 60_000),
            self::plain($hot->windows($what, $now - 60_000, $now), $now - 60_000),
        );
    }

    /** What was loaded just now is seen whole, also by whoever carries on from a look at a few minutes ago. */
    public function testAHistoryThatWasLoadedJustNowIsSeenWhole(): void
    {
        $manager = Instance::manager(Instance::managers());
        $connection = $manager->getConnection();
        // Other tests stop the database.
        $connection->close();
        Instance::emptyDatabase('history');
        $before = $connection->getDatabase();
        $connection->executeStatement('USE olivine_history');
        try {
            $this->loadAndLook($manager, new Database($connection));
        } finally {
            $connection->executeStatement("USE {$before}");
            $manager->clear();
        }
    }

    private function loadAndLook(EntityManagerInterface $manager, Database $database): void
    {
        $now = intdiv((int) (microtime(true) * 1000), self::STEP_MS) * self::STEP_MS;
        (new Partitions($database->connection))->cover($now - Span::DAY_MS, $now + Span::DAY_MS);
        $this->target($database, 'pier');
        $count = 1_200;
        $head = ['target' => 'pier', 'contentType' => 'text/plain; version=0.0.4', 'firstMs' => $now - ($count - 1) * self::STEP_MS];
        $head += ['stepMs' => self::STEP_MS, 'count' => $count, 'text' => "depth{berth=\"b1\"} 0\ndepth{berth=\"b2\"} 0\n"];
        $stream = fopen('php://memory', 'w+');
        \assert($stream !== false);
        fwrite($stream, json_encode($head, JSON_THROW_ON_ERROR) . "\n" . pack('e*', ...range(1, $count), ...range(2, 2 * $count, 2)));
        rewind($stream);
        $loader = new HistoryLoader($manager, $database, new SeriesRegister($database), new BlockWriter($database), new ScrapeWriter($database));
        self::assertSame(2 * $count, $loader->load($stream));

        $index = new SeriesIndex($database->connection);
        $stored = new StoredReadings($database->connection, $index, new StoredRollups($database->connection));
        $what = new Select(new Place(0, 5), 'depth', null);
        $all = $stored->windows($what, $now - $count * self::STEP_MS, $now);
        self::assertSame([range(1.0, $count), range(2.0, 2.0 * $count, 2.0)], array_map(static fn(Window $one): array => $one->values, $all));
        $hot = new HotReadings($stored, $index);
        $hot->windows($what, $now - 240_000 - self::WINDOW_MS, $now - 240_000);
        $after = $now - self::WINDOW_MS;
        self::assertSame(
            self::plain($stored->windows($what, $after, $now), $after),
            self::plain($hot->windows($what, $after, $now), $after),
        );
    }

    private function scrape(Database $database, Target $target, int $berths, int $at): void
    {
        $family = new Family('depth');
        $family->type = MetricType::Gauge;
        $samples = array_map(
            static fn(int $i): Sample => new Sample('depth', LabelSet::of(['berth' => "b{$i}"]), 0.0, null, $family),
            range(1, $berths),
        );
        $slots = (new SeriesRegister($database))->register($target, $samples, $at);
        $values = [];
        $page = 0;
        foreach ($samples as $sample) {
            $slot = $slots[SeriesRegister::identity($sample)];
            $page = $slot->page;
            $values[$slot->slot] = match (mt_rand(0, 15)) {
                0 => ScrapeValues::absent(),
                1 => ScrapeValues::silent(),
                2 => NAN,
                default => (float) mt_rand(0, 999),
            };
        }
        ksort($values);
        (new ScrapeWriter($database))->insert([new ScrapeRow($page, $at, ScrapeValues::pack(array_values($values)))]);
    }

    /**
     * @param list<Window> $windows
     *
     * @return array<string, string> key of the labels → readings within the window, as text
     */
    private static function plain(array $windows, int $afterMs): array
    {
        $plain = [];
        foreach ($windows as $window) {
            $readings = [];
            foreach ($window->times as $i => $at) {
                if ($at > $afterMs) {
                    $readings[] = "{$at} " . json_encode(is_nan($window->values[$i] ?? 0.0) ? 'NaN' : $window->values[$i], JSON_THROW_ON_ERROR);
                }
                self::assertFalse($window->isWhole && ($window->values[$i] === null || is_nan($window->values[$i])));
            }
            if ($readings !== []) {
                $plain[$window->labels->key()] = implode(', ', $readings);
            }
        }
        ksort($plain);

        return $plain;
    }
}

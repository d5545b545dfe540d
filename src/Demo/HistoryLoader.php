<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Store\BlockWriter;
use Olivine\App\Store\PageReadings;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\Sealer;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Store\Span;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Series\ScrapeValues;

/**
 * Loads columns of past readings into the store: the series from an exposition text, the values as blocks, but for the newest, which
 * are left in rows as a collector leaves them.
 */
final readonly class HistoryLoader
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Database $database,
        private SeriesRegister $register,
        private BlockWriter $blocks,
        private ScrapeWriter $rows,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param resource $stream for each target a line of JSON, then a column of doubles a sample
     *
     * @return int how many readings were loaded
     *
     * @throws BadExposition where the text is none, naming the line
     */
    public function load($stream): int
    {
        $loaded = 0;
        while (($line = fgets($stream)) !== false) {
            /** @var array{target: string, contentType: string, text: string, firstMs: int, stepMs: int, count: int} $head */
            $head = json_decode($line, true, 8, JSON_THROW_ON_ERROR);
            $target =
                $this->entities->getRepository(Target::class)->findOneBy(['name' => $head['target']]) ??
                throw new \RuntimeException("There is no target {$head['target']}");
            $samples = TextReader::read($head['text'], Form::ofContentType($head['contentType']))->samples;
            $slots = $this->register->register($target, $samples, $head['firstMs']);
            $columns = [];
            $pages = [];
            $counters = [];
            foreach ($samples as $sample) {
                /** @var array<int, float> $values */
                $values = unpack('e*', self::take($stream, $head['count'] * 8));
                $slot = $slots[SeriesRegister::identity($sample)];
                $columns[$slot->series] = array_values($values);
                $pages[$slot->page][$slot->slot] = $slot->series;
                if (in_array($sample->family->type, [MetricType::Counter, MetricType::Histogram, MetricType::Summary], true)) {
                    $counters[$slot->series] = true;
                }
                $loaded += $head['count'];
            }
            $this->write($pages, $columns, $counters, $head['firstMs'], $head['stepMs'], $head['count']);
        }

        return $loaded;
    }

    /**
     * Day by day; within a day page by page, so that blocks go in by the order of their key.
     *
     * @param array<int, non-empty-array<int, int>> $pages    page → place in its rows → series
     * @param array<int, list<float>>               $columns  by series
     * @param array<int, true>                      $counters
     */
    private function write(array $pages, array $columns, array $counters, int $firstMs, int $stepMs, int $count): void
    {
        $nowMs = $this->clock->now()->ms;
        $sealed = max(0, min($count, intdiv($nowMs - Sealer::SETTLE_MS - $firstMs, $stepMs)));
        $this->database->transaction(function () use ($pages, $columns, $counters, $firstMs, $stepMs, $count, $sealed, $nowMs): void {
            for ($from = 0; $from < $sealed; $from = $to) {
                $dayEnd = Span::dayOf($firstMs + $from * $stepMs) + Span::DAY_MS;
                $to = min($sealed, intdiv($dayEnd - $firstMs, $stepMs) + 1);
                $times = range($firstMs + $from * $stepMs, $firstMs + ($to - 1) * $stepMs, $stepMs);
                $isOver = Sealer::isOver($dayEnd - Span::DAY_MS, $nowMs);
                foreach ($pages as $page => $series) {
                    $part = [];
                    foreach ($series as $id) {
                        $values = array_slice($columns[$id], $from, $to - $from);
                        if ($values !== []) {
                            $part[$id] = $values;
                        }
                    }
                    $this->blocks->write($page, new PageReadings($times, $part), $counters, $isOver);
                }
            }
            foreach ($pages as $page => $series) {
                $this->rows->insert(array_map(
                    static fn(int $i): ScrapeRow => self::row($page, $firstMs + $i * $stepMs, $series, $columns, $i),
                    $sealed < $count ? range($sealed, $count - 1) : [],
                ));
            }
        });
    }

    /**
     * @param non-empty-array<int, int> $series  place → series
     * @param array<int, list<float>>   $columns by series
     */
    private static function row(int $page, int $atMs, array $series, array $columns, int $i): ScrapeRow
    {
        $values = array_fill(0, max(array_keys($series)) + 1, ScrapeValues::silent());
        foreach ($series as $slot => $id) {
            $values[$slot] = $columns[$id][$i];
        }

        return new ScrapeRow($page, $atMs, ScrapeValues::pack(array_values($values)));
    }

    /** @param resource $stream */
    private static function take($stream, int $bytes): string
    {
        $taken = '';
        while (strlen($taken) < $bytes) {
            $more = fread($stream, max(1, $bytes - strlen($taken)));
            if ($more === false || $more === '') {
                throw new \RuntimeException('The history ended in the middle of a column');
            }
            $taken .= $more;
        }

        return $taken;
    }
}

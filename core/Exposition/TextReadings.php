<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

use Olivine\Core\Formula\Catalogue;
use Olivine\Core\Formula\Estimate;
use Olivine\Core\Formula\MetricUnit;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/**
 * The readings of a text with timestamps, as a source for formulas. How often a series is read is not in the
 * text: the median step between its readings is taken, or a minute where it has but one.
 */
final class TextReadings implements ReadingSource, Catalogue
{
    private const LONE_STEP_MS = 60_000;

    /** @var array<string, array<string, Window>> metric → labels → readings */
    private array $series = [];
    /** @var array<string, string> metric → unit */
    private array $units = [];
    private int $longestStaleMs = self::LONE_STEP_MS;

    /** @param int|null $stepMs how often the series are read, where that is known */
    public function __construct(Exposition $text, ?int $stepMs = null)
    {
        $labels = [];
        $points = [];
        foreach ($text->samples as $sample) {
            $key = $sample->labels->key();
            $labels[$sample->name][$key] = $sample->labels;
            $points[$sample->name][$key][$sample->atMs ?? 0] = $sample->value;
            $this->units[$sample->name] ??= MetricUnit::ofName($sample->name, $sample->family->unit ?? '');
        }
        foreach ($points as $metric => $ofMetric) {
            foreach ($ofMetric as $key => $values) {
                ksort($values);
                $times = array_keys($values);
                $staleMs = Window::STALE_INTERVALS * ($stepMs ?? self::stepOf($times));
                $this->longestStaleMs = max($this->longestStaleMs, $staleMs);
                $this->series[$metric][$key] = new Window($labels[$metric][$key], $times, array_values($values), $staleMs, $times[0]);
            }
        }
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        $windows = [];
        foreach ($this->selected($what) as $series) {
            $times = [];
            $values = [];
            foreach ($series->times as $i => $time) {
                if ($time > $afterMs && $time <= $throughMs) {
                    $times[] = $time;
                    $values[] = $series->values[$i];
                }
            }
            if ($times !== []) {
                $windows[] = new Window($series->labels, $times, $values, $series->staleMs, $series->bornMs);
            }
        }

        return $windows;
    }

    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
    {
        return null;
    }

    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        return null;
    }

    public function alerts(string $rule, int $afterMs, int $throughMs): array
    {
        return [];
    }

    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
    {
        $selected = $this->selected($what);

        return new Estimate(
            count($selected),
            (float) array_sum(array_map(static fn(Window $series): int => count($series->times), $selected)),
        );
    }

    public function longestStaleMs(Select $what): int
    {
        return $this->longestStaleMs;
    }

    public function has(string $metric): bool
    {
        return isset($this->series[$metric]);
    }

    public function unit(string $metric): string
    {
        return $this->units[$metric] ?? '';
    }

    public function labels(string $metric): array
    {
        $labels = [];
        foreach ($this->series[$metric] ?? [] as $series) {
            $labels += $series->labels->labels;
        }

        return array_map(strval(...), array_keys($labels));
    }

    public function names(): array
    {
        return array_map(strval(...), array_keys($this->series));
    }

    /** @return list<Window> */
    private function selected(Select $what): array
    {
        return array_values(
            array_filter(
                $this->series[$what->metric] ?? [],
                static fn(Window $series): bool => $what->where === null || $what->where->accepts($series->labels),
            ),
        );
    }

    /** @param list<int> $times rising */
    private static function stepOf(array $times): int
    {
        $steps = [];
        foreach ($times as $i => $time) {
            if ($i > 0) {
                $steps[] = $time - $times[$i - 1];
            }
        }
        sort($steps);

        return $steps === [] ? self::LONE_STEP_MS : $steps[intdiv(count($steps), 2)];
    }
}

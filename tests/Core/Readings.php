<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Estimate;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/** Readings held in memory, for tests. */
final class Readings implements ReadingSource
{
    /** @var list<array{string, LabelSet, array<int, float|null>}> metric, labels, values by millisecond */
    private array $series = [];
    /** @var list<array{string, LabelSet, array<int, float>}> rule, labels, states by second */
    private array $alerts = [];

    public function __construct(private readonly int $staleMs = 45_000)
    {
    }

    /**
     * @param array<string, string>  $labels
     * @param array<int, float|null> $values second → value
     */
    public function with(string $metric, array $labels, array $values): self
    {
        return $this->withMilliseconds(
            $metric,
            $labels,
            array_combine(array_map(static fn(int $second): int => $second * 1000, array_keys($values)), $values),
        );
    }

    /**
     * @param array<string, string>  $labels
     * @param array<int, float|null> $values millisecond → value
     */
    public function withMilliseconds(string $metric, array $labels, array $values): self
    {
        $this->series[] = [$metric, LabelSet::of($labels), $values];

        return $this;
    }

    /**
     * @param array<string, string> $labels
     * @param array<int, float>     $states second → 1 from then on raised, 0 not
     */
    public function withAlert(string $rule, array $labels, array $states): self
    {
        $this->alerts[] = [$rule, LabelSet::of($labels), $states];

        return $this;
    }

    public function alerts(string $rule, int $afterMs, int $throughMs): array
    {
        $windows = [];
        foreach ($this->alerts as [$of, $labels, $states]) {
            if ($of !== $rule) {
                continue;
            }
            $times = [$afterMs + 1];
            $values = [0.0];
            foreach ($states as $second => $state) {
                if (1000 * $second <= $afterMs + 1) {
                    $values[0] = $state;
                } elseif (1000 * $second <= $throughMs) {
                    $times[] = 1000 * $second;
                    $values[] = $state;
                }
            }
            $windows[] = new Window($labels, $times, $values, PHP_INT_MAX);
        }

        return $windows;
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        $windows = [];
        foreach ($this->series as [$metric, $labels, $values]) {
            if ($metric !== $what->metric || ($what->where !== null && !$what->where->accepts($labels))) {
                continue;
            }
            $times = [];
            $inside = [];
            foreach ($values as $at => $value) {
                if ($at > $afterMs && $at <= $throughMs) {
                    $times[] = $at;
                    $inside[] = $value;
                }
            }
            if ($times !== []) {
                $windows[] = new Window($labels, $times, $inside, $this->staleMs);
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

    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
    {
        $series = array_filter(
            $this->series,
            static fn(array $one): bool => $one[0] === $what->metric && ($what->where === null || $what->where->accepts($one[1])),
        );

        return new Estimate(count($series), (float) array_sum(array_map(static fn(array $one): int => count($one[2]), $series)));
    }

    public function longestStaleMs(Select $what): int
    {
        return $this->staleMs;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Estimate;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/** Readings, and beside them the alerts of rules that were run over them before. */
final class AlertsSoFar implements ReadingSource
{
    /** @var array<string, Outcome> by the name of the rule */
    private array $outcomes = [];

    public function __construct(private readonly ReadingSource $readings)
    {
    }

    public function add(string $rule, Outcome $outcome): void
    {
        $this->outcomes[$rule] = $outcome;
    }

    public function alerts(string $rule, int $afterMs, int $throughMs): array
    {
        $outcome = $this->outcomes[$rule] ?? null;
        $labels = [];
        $states = [];
        foreach ($outcome->alerts ?? [] as $key => $alert) {
            $labels[$key] = $alert->labels;
        }
        foreach ($outcome->transitions ?? [] as $moved) {
            $at = $moved->transition->at->ms;
            $key = $moved->labels->key();
            $labels[$key] = $moved->labels;
            if ($at <= $throughMs) {
                $states[$key][max($afterMs + 1, $at)] = $moved->transition->to->isRaised() ? 1.0 : 0.0;
            }
        }
        $windows = [];
        foreach ($labels as $key => $of) {
            $moves = ($states[$key] ?? []) + [$afterMs + 1 => 0.0];
            ksort($moves);
            $windows[] = new Window($of, array_keys($moves), array_values($moves), PHP_INT_MAX);
        }

        return $windows;
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        return $this->readings->windows($what, $afterMs, $throughMs);
    }

    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
    {
        return $this->readings->buckets($what, $tier, $detail, $afterMs, $throughMs);
    }

    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        return $this->readings->remains($what, $tier, $afterMs, $throughMs);
    }

    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
    {
        return $this->readings->estimate($what, $afterMs, $throughMs);
    }

    public function longestStaleMs(Select $what): int
    {
        return $this->readings->longestStaleMs($what);
    }
}

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

/** Says that it has many series and counts how often it is asked for them; one series where there is a filter. */
final class AllegedReadings implements ReadingSource
{
    public int $read = 0;
    /** Readings that would have come out. */
    public float $readings = 0.0;

    public function __construct(private readonly int $series, private readonly int $intervalMs)
    {
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        ++$this->read;
        $this->readings += $this->estimate($what, $afterMs, $throughMs)->readings;

        return [new Window(LabelSet::of(['host' => 'a']), [$throughMs], [1.0], 3 * $this->intervalMs)];
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
        $series = $what->where === null ? $this->series : 1;

        return new Estimate($series, ($series * ($throughMs - $afterMs)) / $this->intervalMs);
    }

    public function longestStaleMs(Select $what): int
    {
        return 3 * $this->intervalMs;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Agent;

use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextWriter;

/**
 * What share of the time the processors worked, looked at each second: mean, lowest and highest second since it was asked for last, and of the last
 * quarter of a minute at least, so that two who ask take nothing from each other.
 *
 * A minute at 10 % with one second at 100 % is a mean of 11.5 % that hides the peak, so all three are told.
 */
final class ProcessorShares
{
    private const MOST_SECONDS = 3_600;
    private const LEAST_SECONDS = 15;
    /** @var array{int, int}|null ticks at work and in all, at the last look */
    private ?array $before = null;
    /** @var list<float> a share a second */
    private array $shares = [];
    /** How many of them nobody was told of yet. */
    private int $new = 0;

    public function __construct(private readonly string $proc = '/proc')
    {
    }

    public function look(): void
    {
        if (preg_match('~^cpu\s+(.*)$~m', (string) @file_get_contents("{$this->proc}/stat"), $part) !== 1) {
            return;
        }
        // Guests are counted among user and nice already.
        $ticks = array_slice(array_map(intval(...), explode(' ', $part[1])), 0, 8);
        $all = array_sum($ticks);
        $worked = $all - ($ticks[3] ?? 0) - ($ticks[4] ?? 0);
        if ($this->before !== null && $all > $this->before[1]) {
            $this->shares[] = min(1.0, max(0.0, ($worked - $this->before[0]) / ($all - $this->before[1])));
            $this->shares = array_slice($this->shares, -self::MOST_SECONDS);
            $this->new = min(self::MOST_SECONDS, $this->new + 1);
        }
        $this->before = [$worked, $all];
    }

    public function write(TextWriter $writer): void
    {
        $told = array_slice($this->shares, -max($this->new, self::LEAST_SECONDS));
        if ($told === []) {
            return;
        }
        $this->new = 0;
        $mean = array_sum($told) / count($told);
        $writer
            ->family('system_cpu_utilization_ratio', MetricType::Gauge, 'ratio', 'The share of time in which the processors worked', [[[], $mean]])
            ->family('system_cpu_utilization_lowest_ratio', MetricType::Gauge, 'ratio', 'In the calmest second', [[[], min($told)]])
            ->family('system_cpu_utilization_highest_ratio', MetricType::Gauge, 'ratio', 'In the busiest second', [[[], max($told)]]);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Spread;

/**
 * The usual range of each series of a formula: from the same hours of past weeks, half an hour to either side, the
 * tenth part below, the middle and the tenth part above.
 */
final readonly class UsualBand
{
    private const WEEK_MS = 604_800_000;
    private const WEEKS = 4;
    private const AROUND_MS = 1_800_000;
    private const LEAST_VALUES = 5;

    public function __construct(private Evaluator $evaluator)
    {
    }

    /** @return array<string, array{low: list<float|null>, middle: list<float|null>, high: list<float|null>, weeks: int}> by the key of the labels */
    public function of(Node $formula, int $firstMs, int $toMs, int $stepMs): array
    {
        $around = min(20, intdiv(self::AROUND_MS, $stepMs));
        $past = [];
        $weeks = [];
        for ($week = 1; $week <= self::WEEKS; ++$week) {
            $from = $firstMs - $week * self::WEEK_MS - $around * $stepMs;
            foreach ($this->evaluator->range($formula, $from, $toMs - $week * self::WEEK_MS + $around * $stepMs, $stepMs)->lines as $line) {
                $key = $line->labels->key();
                $weeks[$key] = ($weeks[$key] ?? 0) + 1;
                foreach ($line->values as $i => $value) {
                    if ($value !== null && is_finite($value)) {
                        $past[$key][$i][] = $value;
                    }
                }
            }
        }
        $bands = [];
        $count = intdiv($toMs - $firstMs, $stepMs) + 1;
        foreach ($past as $key => $byInstant) {
            $band = ['low' => [], 'middle' => [], 'high' => [], 'weeks' => $weeks[$key]];
            for ($i = 0; $i < $count; ++$i) {
                $values = [];
                for ($n = $i; $n <= $i + 2 * $around; ++$n) {
                    array_push($values, ...($byInstant[$n] ?? []));
                }
                $enough = count($values) >= min(self::LEAST_VALUES, 1 + 2 * $around);
                foreach (['low' => 0.1, 'middle' => 0.5, 'high' => 0.9] as $name => $share) {
                    $band[$name][] = $enough && $values !== [] ? Spread::quantile($share, $values) : null;
                }
            }
            $bands[$key] = $band;
        }

        return $bands;
    }
}

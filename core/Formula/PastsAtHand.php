<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;

/**
 * The pasts of formulas, kept from one look to the next: whoever looks each minute at what was usual in a fortnight reads the
 * fortnight once, and then each value as it comes. What is kept of a formula is let go with the formula.
 *
 * By example, on a grid of ten minutes over 14 days, of 300 series: 2,016 values each are read at the first look. At 09:10 one
 * value of each is added and the oldest let go; until 09:20 nothing is worked out at all, as what is usual has not changed.
 */
final class PastsAtHand
{
    /**
     * Formula → step → first and last instant kept, series with their values.
     *
     * @var \WeakMap<Node, array<int, array{int, int, array<string, array{LabelSet, list<float|null>}>}>>
     */
    private \WeakMap $pasts;
    /**
     * Formula → how → at which instant, but for what, and what was told then.
     *
     * @var \WeakMap<Node, array<string, array{int, string, list<array{LabelSet, array<int, float>|null}>}>>
     */
    private \WeakMap $told;
    /** @var \WeakMap<Node, int> when a formula was looked at last */
    private \WeakMap $looked;

    public function __construct()
    {
        $this->pasts = new \WeakMap();
        $this->told = new \WeakMap();
        $this->looked = new \WeakMap();
    }

    /**
     * Before a formula is looked at: where something came to light meanwhile that was there before, its past is read anew.
     *
     * @param callable(int): bool $hasTurned since then
     *
     * @return bool whether it goes on from the look before
     */
    public function look(Node $of, int $atMs, callable $hasTurned): bool
    {
        $before = $this->looked[$of] ?? null;
        $this->looked[$of] = $atMs;
        if ($before === null || $before > $atMs || $hasTurned($before)) {
            unset($this->pasts[$of], $this->told[$of]);

            return false;
        }

        return true;
    }

    /**
     * @param int                              $firstMs of the grid
     * @param int                              $lastMs  of the grid, not before the first
     * @param callable(int, int): list<Window> $read    what lies on the grid in `(after, through]`
     *
     * @return list<Window> on the grid from the first to the last
     */
    public function onGrid(Node $of, int $firstMs, int $lastMs, int $stepMs, callable $read): array
    {
        [$from, $to, $series] = $this->pasts[$of][$stepMs] ?? [$firstMs, $firstMs - $stepMs, []];
        if ($firstMs < $from || $firstMs > $to + $stepMs || $lastMs < $to) {
            [$from, $to, $series] = [$firstMs, $firstMs - $stepMs, []];
        }
        if ($lastMs > $to) {
            $series = self::extended($series, intdiv($to - $from, $stepMs) + 1, $read($to, $lastMs), intdiv($lastMs - $to, $stepMs));
        }
        $old = intdiv($firstMs - $from, $stepMs);
        if ($old > 0) {
            $series = array_map(static fn(array $one): array => [$one[0], array_slice($one[1], $old)], $series);
        }
        $kept = $this->pasts[$of] ?? [];
        $kept[$stepMs] = [$firstMs, $lastMs, $series];
        $this->pasts[$of] = $kept;
        $grid = range($firstMs, $lastMs, $stepMs);

        return array_values(
            array_map(static fn(array $one): Window => new Window($one[0], $grid, $one[1], $stepMs), $series),
        );
    }

    /**
     * @param string $butFor what was left out
     *
     * @return list<array{LabelSet, array<int, float>|null}>|null what was told at this instant of the grid; null where nothing was
     */
    public function told(Node $of, string $how, int $atMs, string $butFor): ?array
    {
        [$at, $leftOut, $told] = $this->told[$of][$how] ?? [null, '', null];

        return $at === $atMs && $leftOut === $butFor ? $told : null;
    }

    /** @param list<array{LabelSet, array<int, float>|null}> $told */
    public function tell(Node $of, string $how, int $atMs, string $butFor, array $told): void
    {
        $kept = $this->told[$of] ?? [];
        $kept[$how] = [$atMs, $butFor, $told];
        $this->told[$of] = $kept;
    }

    /**
     * @param array<string, array{LabelSet, list<float|null>}> $series
     * @param int                                              $had    instants of each
     * @param list<Window>                                     $read
     * @param int                                              $more   instants that were read
     *
     * @return array<string, array{LabelSet, list<float|null>}>
     */
    private static function extended(array $series, int $had, array $read, int $more): array
    {
        $came = [];
        foreach ($read as $window) {
            $key = $window->labels->key();
            $series[$key] ??= [$window->labels, array_fill(0, $had, null)];
            array_push($series[$key][1], ...$window->values);
            $came[$key] = true;
        }
        foreach (array_diff_key($series, $came) as $key => [$labels, $values]) {
            $series[$key] = [$labels, [...$values, ...array_fill(0, $more, null)]];
        }

        return $series;
    }
}

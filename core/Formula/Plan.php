<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Age;
use Olivine\Core\Formula\Node\Baseline;
use Olivine\Core\Formula\Node\Deviation;
use Olivine\Core\Formula\Node\Missing;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Node\Shift;

/** Says, before anything is read, which spans of which series a formula will need. */
final readonly class Plan
{
    private const DAY_MS = 86_400_000;

    public function __construct(private int $longestStaleMs)
    {
    }

    /** @return int about how many readings it takes to work the formula out over the range */
    public function estimate(Node $formula, int $fromMs, int $toMs, ReadingSource $source): int
    {
        $readings = 0;
        foreach ($this->reads($formula, $fromMs, $toMs) as [$what, $after, $through]) {
            $readings += $source->estimate($what, $after, $through);
        }

        return $readings;
    }

    /** @return list<array{Select, int, int}> series, and the readings of theirs after one instant and through another */
    public function reads(Node $node, int $fromMs, int $toMs): array
    {
        if ($node instanceof Select) {
            return [[$node, $fromMs - $this->longestStaleMs, $toMs]];
        }
        if ($node instanceof Percentile || $node instanceof ShareBelow) {
            return [[new Select($node->of->place, $node->of->metric . '_bucket', $node->of->where), $fromMs - $node->windowMs - $this->longestStaleMs, $toMs]];
        }
        [$earlier, $later] = match (true) {
            $node instanceof Shift => [$node->byMs, $node->byMs],
            $node instanceof OverTime => [$node->windowMs, 0],
            $node instanceof Age, $node instanceof Missing => [self::DAY_MS, 0],
            $node instanceof Baseline, $node instanceof Deviation => [$node->spanMs, 0],
            default => [0, 0],
        };
        $reads = [];
        foreach (Tree::children($node) as $child) {
            array_push($reads, ...$this->reads($child, $fromMs - $earlier, $toMs - $later));
        }

        return $reads;
    }
}

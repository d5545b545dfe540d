<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Scalar;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\Narrowing;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Operator;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\Rests;
use Olivine\Core\Series\LabelSet;

/** Targets that somebody paused or removed, and what of a formula comes from none but these. */
final class StoredRests implements Rests
{
    private const KEEP_MS = 2_000;
    private const GONE = 'no target brings it any more';
    /** @var array<int, list<array{int, int, string}>>|null target → from, to and why of each rest */
    private ?array $rests = null;
    private int $knownAtMs = 0;
    /** @var \WeakMap<Node, array<string, Node>> formula → labels → what of it is needed to tell that label set */
    private \WeakMap $narrowed;

    public function __construct(
        private readonly Connection $connection,
        private readonly SeriesIndex $index,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->narrowed = new \WeakMap();
    }

    public function why(Node $formula, LabelSet $labels, int $atMs): ?string
    {
        $key = $labels->key();
        $kept = $this->narrowed[$formula] ?? [];
        $node = $kept[$key] ?? null;
        if ($node === null) {
            $node = $kept[$key] = Narrowing::to($formula, $labels->labels);
            $this->narrowed[$formula] = $kept;
        }

        $why = $this->whyNothing($node, $atMs);

        return $why === self::GONE ? $this->whyNamed($labels->get('target'), $atMs) ?? $why : $why;
    }

    /** Of a target that was removed no series are known, but its name may be. */
    private function whyNamed(string $target, int $atMs): ?string
    {
        foreach ($this->rests() as $ofTarget) {
            foreach ($ofTarget as [$from, $to, $words]) {
                if ($atMs >= $from && $atMs < $to && str_starts_with($words, "{$target} was ")) {
                    return $words;
                }
            }
        }

        return null;
    }

    /** Most parts need all they are made of; of two that stand for each other one is enough. */
    private function whyNothing(Node $node, int $atMs): ?string
    {
        if ($node instanceof Select) {
            return $this->whyNoSeries($node, $atMs);
        }
        if ($node instanceof Percentile || $node instanceof ShareBelow) {
            return $this->whyNoSeries(Tree::selections($node)[0], $atMs);
        }
        $whys = array_map(fn(Node $child): ?string => $this->whyNothing($child, $atMs), Tree::children($node));
        $given = array_values(array_filter($whys, static fn(?string $why): bool => $why !== null));
        $oneIsEnough = $node instanceof Binary && $node->operator === Operator::Default;

        return $oneIsEnough && count($given) < count($whys) ? null : $given[0] ?? null;
    }

    private function whyNoSeries(Select $selection, int $atMs): ?string
    {
        $why = null;
        foreach ($this->index->select($selection) as $series) {
            $why = $this->whyRests($series->targetId, $atMs);
            if ($why === null) {
                return null;
            }
        }

        // Series stay known for as long as their target does, so what has none lost its target, or its labels there.
        return $why ?? self::GONE;
    }

    private function whyRests(int $targetId, int $atMs): ?string
    {
        foreach ($this->rests()[$targetId] ?? [] as [$from, $to, $words]) {
            if ($atMs >= $from && $atMs < $to) {
                return $words;
            }
        }

        return null;
    }

    /** @return array<int, list<array{int, int, string}>> */
    private function rests(): array
    {
        $now = $this->clock->nowMs();
        if ($this->rests === null || $now - $this->knownAtMs > self::KEEP_MS) {
            $this->rests = [];
            $this->knownAtMs = $now;
            $rows = $this->connection->fetchAllNumeric(
                'SELECT r.target_id, r.from_at, r.to_at, r.words, t.name FROM target_rest r JOIN target t ON t.id = r.target_id ORDER BY r.from_at',
            );
            foreach ($rows as [$target, $from, $to, $words, $name]) {
                $this->rests[Scalar::int($target)][] = [
                    Scalar::int($from),
                    $to === null ? PHP_INT_MAX : Scalar::int($to),
                    Scalar::text($name) . ' was ' . Scalar::text($words),
                ];
            }
        }

        return $this->rests;
    }
}

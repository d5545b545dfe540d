<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Scalar;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\Standstills;
use Olivine\Core\Formula\Narrowing;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Operator;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\Rest;
use Olivine\Core\Rule\Rests;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** Targets that somebody paused or removed, spans in which nobody collected, and what of a formula comes from none but these. */
final class StoredRests implements Rests
{
    private const KEEP_MS = 2_000;
    private const GONE = 'no target brings it any more';
    private readonly Rest $gone;
    /** @var array<int, list<array{int, int}>> slot of targets → from and to of each standstill */
    private array $stoodStill = [];
    /** @var array<int, list<array{int, int, Rest}>>|null target → from, to and why of each rest */
    private ?array $rests = null;
    private ?Instant $knownAt = null;
    /** @var \WeakMap<Node, array<string, Node>> formula → labels → what of it is needed to tell that label set */
    private \WeakMap $narrowed;

    public function __construct(
        private readonly Connection $connection,
        private readonly SeriesIndex $index,
        private readonly Standstills $standstills,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->narrowed = new \WeakMap();
        $this->gone = Rest::taken(self::GONE);
    }

    /** What is asked from now on is looked up anew: no older than what was found out before this. */
    public function forget(): void
    {
        $this->rests = null;
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function why(Node $formula, LabelSet $labels, Instant $at): ?Rest
    {
        $key = $labels->key();
        $kept = $this->narrowed[$formula] ?? [];
        $node = $kept[$key] ?? null;
        if ($node === null) {
            $node = $kept[$key] = Narrowing::to($formula, $labels->labels);
            $this->narrowed[$formula] = $kept;
        }

        $why = $this->whyNothing($node, $at);

        return $why === $this->gone ? $this->whyNamed($labels->get('target'), $at) ?? $why : $why;
    }

    /** Of a target that was removed no series are known, but its name may be. */
    private function whyNamed(string $target, Instant $at): ?Rest
    {
        foreach ($this->rests() as $ofTarget) {
            foreach ($ofTarget as [$from, $to, $rest]) {
                if ($at->ms >= $from && $at->ms < $to && str_starts_with($rest->words, "{$target} was ")) {
                    return $rest;
                }
            }
        }

        return null;
    }

    /**
     * Most parts need all they are made of; of two that stand for each other one is enough.
     *
     * @throws TooMuchToRead
     */
    private function whyNothing(Node $node, Instant $at): ?Rest
    {
        if ($node instanceof Select) {
            return $this->whyNoSeries($node, $at);
        }
        if ($node instanceof Percentile || $node instanceof ShareBelow) {
            return $this->whyNoSeries(Tree::selections($node)[0], $at);
        }
        $whys = array_map(fn(Node $child): ?Rest => $this->whyNothing($child, $at), Tree::children($node));
        $given = array_values(array_filter($whys, static fn(?Rest $why): bool => $why !== null));
        $oneIsEnough = $node instanceof Binary && $node->operator === Operator::Default;

        return $oneIsEnough && count($given) < count($whys) ? null : $given[0] ?? null;
    }

    /** @throws TooMuchToRead */
    private function whyNoSeries(Select $selection, Instant $at): ?Rest
    {
        $why = null;
        foreach ($this->index->select($selection) as $series) {
            $why = $this->whyRests($series->targetId, $at);
            if ($why === null) {
                return null;
            }
        }

        // Series stay known for as long as their target does, so what has none lost its target, or its labels there.
        return $why ?? $this->gone;
    }

    private function whyRests(int $targetId, Instant $at): ?Rest
    {
        foreach ($this->rests()[$targetId] ?? [] as [$from, $to, $rest]) {
            if ($at->ms >= $from && $at->ms < $to) {
                return $rest;
            }
        }
        foreach ($this->stoodStill[PartName::Collector->slotOf($targetId)] ?? [] as [$from, $to]) {
            if ($at->ms > $from && $at->ms <= $to) {
                return Rest::unwatched();
            }
        }

        return null;
    }

    /** @return array<int, list<array{int, int, Rest}>> */
    private function rests(): array
    {
        $now = $this->clock->now();
        if ($this->rests === null || $this->knownAt === null || $now->since($this->knownAt)->ms > self::KEEP_MS) {
            $this->rests = [];
            $this->knownAt = $now;
            $rows = $this->connection->fetchAllNumeric(
                'SELECT r.target_id, r.from_at, r.to_at, r.words, t.name FROM target_rest r JOIN target t ON t.id = r.target_id ORDER BY r.from_at',
            );
            foreach ($rows as [$target, $from, $to, $words, $name]) {
                $this->rests[Scalar::int($target)][] = [
                    Scalar::int($from),
                    $to === null ? PHP_INT_MAX : Scalar::int($to),
                    Rest::taken(Scalar::text($name) . ' was ' . Scalar::text($words)),
                ];
            }
            $this->stoodStill = $this->standstills->bySlot($now);
        }

        return $this->rests;
    }
}

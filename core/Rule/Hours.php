<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\NoneOf;
use Olivine\Core\Formula\Node\OneOf;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Operator;
use Olivine\Core\Formula\Steady;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * Between which values each hour of each series lay. A month of a hundred series is 72,000 hours and 17 million readings: what lay
 * below 300 all the morning need not be read by whoever looks for what is above 400. A quotient lies between those of the bounds of its
 * sides: 60 to 70 GiB of 100 GiB is 0.6 to 0.7 of it.
 */
final readonly class Hours
{
    /** Ten figures each: a hundred series over a year are too many. */
    private const MOST = 400_000;

    /**
     * @param list<HoursOfOne>       $ones   of the formula, or of the left side of a quotient
     * @param array<int, HoursOfOne> $others each one's partner on the right side, by its place; none where it is no quotient
     */
    private function __construct(private Node $of, private array $ones, private array $others)
    {
    }

    /** @return self|null null where it cannot be told from hours */
    public static function read(Rule $rule, Evaluator $evaluator, int $marginMs, Instant $first, Instant $through): ?self
    {
        $of = $rule->watched;
        if (!self::canTell($of)) {
            return null;
        }
        if (!$of instanceof Binary) {
            $ones = self::side($of, $evaluator, $marginMs, $first, $through);

            return $ones === null ? null : new self($of, $ones, []);
        }
        $ones = self::side($of->left, $evaluator, $marginMs, $first, $through);
        $others = $ones === null ? null : self::side($of->right, $evaluator, $marginMs, $first, $through);
        $partners = $ones === null || $others === null ? null : self::partners($ones, $others, $of->on);

        return $ones === null || $partners === null ? null : new self($of, $ones, $partners);
    }

    /** Newest readings, windows whose value lies within them, and the quotient of two of these. */
    public static function canTell(Node $of): bool
    {
        return match (true) {
            $of instanceof Select => true,
            $of instanceof OverTime => $of->of instanceof Select && $of->reducer->liesWithin(),
            $of instanceof Binary => $of->operator === Operator::Over
                && !$of->left instanceof Binary
                && !$of->right instanceof Binary
                && self::canTell($of->left)
                && self::canTell($of->right),
            default => false,
        };
    }

    /**
     * What lies steadily between two bounds, from so long before the first instant that nothing follows any more from what was before.
     *
     * @return array<string, array{LabelSet, float}> labels, and a value that stands for all of its values, by the key of the labels
     */
    public function steady(Steady $steady, Instant $first, Instant $last, float $mustSee): array
    {
        $found = [];
        foreach ($this->ones as $i => $one) {
            $range = $one->range($first->ms, $last->ms, $steady->marginMs, $mustSee);
            if ($range !== null && $this->of instanceof Binary) {
                $other = ($this->others[$i] ?? null)?->range($first->ms, $last->ms, $steady->marginMs, $mustSee);
                $range = $other === null ? null : self::quotient($range, $other);
            }
            if ($range !== null && $steady->placeOf(...$range) !== null) {
                $found[$one->hours->labels->key()] = [$one->hours->labels, $range[0]];
            }
        }

        return $found;
    }

    /**
     * The formula without these.
     *
     * @param array<string, mixed> $keys of label sets
     */
    public function others(array $keys): Node
    {
        if (!$this->of instanceof Binary) {
            return self::narrowed($this->of, new NoneOf(new OneOf($keys)));
        }
        $wanted = [];
        foreach ($this->others as $i => $partner) {
            if (!isset($keys[$this->ones[$i]->hours->labels->key()])) {
                $wanted[$partner->hours->labels->key()] = true;
            }
        }

        return new Binary(
            $this->of->place,
            $this->of->operator,
            self::narrowed($this->of->left, new NoneOf(new OneOf($keys))),
            self::narrowed($this->of->right, new OneOf($wanted)),
            $this->of->on,
        );
    }

    /** @return list<HoursOfOne>|null null where there are no hours that would be exact, or they are too many */
    private static function side(Node $of, Evaluator $evaluator, int $marginMs, Instant $first, Instant $through): ?array
    {
        $windowMs = $of instanceof OverTime ? $of->windowMs : 0;
        $select = $of instanceof OverTime ? $of->of : $of;
        if (!$select instanceof Select) {
            return null;
        }
        $from = HoursOfOne::floor($first->ms - max($windowMs, $evaluator->longestStaleMs($select)) - $marginMs);
        $hours = $evaluator->hours($select, $from, -HoursOfOne::floor(-$through->ms), self::MOST);

        return $hours === null ? null : array_map(static fn(Buckets $one): HoursOfOne => new HoursOfOne($one, $windowMs), $hours);
    }

    /**
     * Who is paired with whom, where that never changes, whoever comes and goes. Sides are paired on the labels that both have; those that
     * are the same in what two have in common, and not in what all have in common, are partners at one time and not at another.
     *
     * @param list<HoursOfOne>  $ones
     * @param list<HoursOfOne>  $others
     * @param list<string>|null $on
     *
     * @return array<int, HoursOfOne>|null by the place of the one; null where it may change
     */
    private static function partners(array $ones, array $others, ?array $on): ?array
    {
        [$kinds, $otherKinds] = [self::byNames($ones), self::byNames($others)];
        $shared = $on ?? array_values(array_intersect(array_merge(...array_column($kinds, 0)), array_merge(...array_column($otherKinds, 0))));
        $partners = [];
        foreach ($kinds as [$names, $ofKind]) {
            foreach ($otherKinds as [$otherNames, $ofOtherKind]) {
                $common = $on ?? array_values(array_intersect($names, $otherNames));
                $byKey = [];
                foreach ($ofOtherKind as $other) {
                    $byKey[$other->hours->labels->only($common)->key()][] = $other;
                }
                foreach ($ofKind as $i => $one) {
                    $labels = $one->hours->labels;
                    foreach ($byKey[$labels->only($common)->key()] ?? [] as $other) {
                        $isSure = $labels->only($shared)->equals($other->hours->labels->only($shared));
                        // What comes of a pair is called as its left side is, which says as much of itself or more.
                        if (!$isSure || isset($partners[$i]) || count($otherNames) > count($names)) {
                            return null;
                        }
                        $partners[$i] = $other;
                    }
                }
            }
        }

        return $partners;
    }

    /**
     * @param list<HoursOfOne> $ones
     *
     * @return list<array{list<string>, array<int, HoursOfOne>}> those that have labels of the same names, by their place
     */
    private static function byNames(array $ones): array
    {
        $kinds = [];
        foreach ($ones as $i => $one) {
            $names = array_map(strval(...), array_keys($one->hours->labels->labels));
            $kinds[implode(',', $names)] ??= [$names, []];
            $kinds[implode(',', $names)][1][$i] = $one;
        }

        return array_values($kinds);
    }

    /**
     * @param array{float, float} $of
     * @param array{float, float} $by
     *
     * @return array{float, float}|null null where it is by nothing, or by what may be
     */
    private static function quotient(array $of, array $by): ?array
    {
        if (!($by[0] > 0.0 || $by[1] < 0.0)) {
            return null;
        }
        $ends = [$of[0] / $by[0], $of[0] / $by[1], $of[1] / $by[0], $of[1] / $by[1]];

        return [min($ends), max($ends)];
    }

    private static function narrowed(Node $of, Filter $to): Node
    {
        return match (true) {
            $of instanceof OverTime => new OverTime($of->place, $of->reducer, self::narrowed($of->of, $to), $of->windowMs, $of->parameter),
            $of instanceof Select => new Select($of->place, $of->metric, $of->where === null ? $to : new AllOf($of->where, $to)),
            default => $of,
        };
    }
}

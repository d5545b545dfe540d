<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Series\LabelSet;

/**
 * Pairs two sides of an operator on the labels they share; the side with fewer labels spreads over the other.
 *
 *     used{host="a", disk="sda"}   /  total{host="a"}    paired on host, the result keeps host and disk
 *
 * Who is paired with whom is found anew wherever somebody comes or goes: at each instant only those with a value there
 * take part, so a range says of an instant what the instant says by itself. After containers were replaced, the old
 * ones are partners of nobody.
 */
final readonly class Pairing
{
    /**
     * @param list<string>|null             $on      labels to pair on; null: all that both sides have
     * @param \Closure(float, float): float $combine
     * @param bool                          $fills   whether a side alone stands for both
     */
    private function __construct(private Place $place, private ?array $on, private \Closure $combine, private bool $fills)
    {
    }

    public static function of(Binary $node): self
    {
        return new self($node->place, $node->on, $node->operator->function(), $node->operator === Operator::Default);
    }

    /** @param \Closure(float, float): float $combine */
    public static function with(Place $place, \Closure $combine): self
    {
        return new self($place, null, $combine, false);
    }

    /** @throws FormulaError where both sides have several series for the same labels */
    public function apply(Lines $left, Lines $right, int $instants): Lines
    {
        if ($right->isNumber) {
            return $this->withNumber($left, $right->lines[0], $instants);
        }
        if ($left->isNumber) {
            $number = $left->lines[0];

            return new Lines(
                array_map(fn(Line $line): Line => $this->combine($line->labels, $number, $line, $instants), $right->lines),
            );
        }
        $lines = [];
        foreach ($this->parts(self::there($left), self::there($right)) as [$ones, $others]) {
            array_push($lines, ...$this->paired($ones, $others, $instants));
        }

        return new Lines($lines);
    }

    /**
     * Cuts both sides into parts that have nothing to do with each other, so that who comes and goes in one of them
     * costs the others nothing. Where series of one side have different labels, what is shared changes with who is there.
     *
     * @param list<Line> $left
     * @param list<Line> $right
     *
     * @return list<array{list<Line>, list<Line>}>
     */
    private function parts(array $left, array $right): array
    {
        if ($this->on === null && (self::differInNames($left) || self::differInNames($right))) {
            return [[$left, $right]];
        }
        $shared = $this->on ?? array_values(array_intersect(self::names($left), self::names($right)));
        $lefts = self::byLabels($left, $shared);
        $rights = self::byLabels($right, $shared);
        $keys = $this->fills ? $lefts + $rights : array_intersect_key($lefts, $rights);

        return array_map(static fn(int|string $key): array => [$lefts[$key] ?? [], $rights[$key] ?? []], array_keys($keys));
    }

    /**
     * @param list<Line> $left
     * @param list<Line> $right
     *
     * @return list<Line>
     *
     * @throws FormulaError
     */
    private function paired(array $left, array $right, int $instants): array
    {
        $spells = Presence::spells([...$left, ...$right], $instants);
        if (count($spells) === 1) {
            return array_map(
                fn(array $pair): Line => $this->line($pair, $instants),
                $this->pairs(self::presentAt($left, $spells[0][0]), self::presentAt($right, $spells[0][0])),
            );
        }
        $labels = [];
        $columns = [];
        foreach ($spells as $spell) {
            foreach ($this->pairs(self::presentAt($left, $spell[0]), self::presentAt($right, $spell[0])) as [$of, $one, $other]) {
                $key = $of->key();
                $labels[$key] = $of;
                $columns[$key] ??= array_fill(0, $instants, null);
                foreach ($spell as $i) {
                    $columns[$key][$i] = $this->value($one?->values[$i], $other?->values[$i]);
                }
            }
        }
        $lines = [];
        foreach ($columns as $key => $values) {
            $lines[] = new Line($labels[$key], array_values($values));
        }

        return $lines;
    }

    /** What is not there at an instant has no labels that a number could stand under; where nothing is there, it stands alone. */
    private function withNumber(Lines $left, Line $number, int $instants): Lines
    {
        $lines = array_map(fn(Line $line): Line => $this->combine($line->labels, $line, $number, $instants), $left->lines);
        if (!$this->fills) {
            return new Lines($lines, $left->isNumber);
        }
        $alone = [];
        for ($i = 0; $i < $instants; ++$i) {
            $alone[] = self::isAnyThere($left->lines, $i) ? null : $number->values[$i];
        }
        $alone = new Line(LabelSet::none(), $alone);

        return new Lines($alone->isEmpty() ? $lines : self::together([...$lines, $alone]), $left->isNumber);
    }

    /**
     * One line a label set.
     *
     * @param list<Line> $lines that never have a value at the same instant where their labels are the same
     *
     * @return list<Line>
     */
    private static function together(array $lines): array
    {
        $byKey = [];
        foreach ($lines as $line) {
            $key = $line->labels->key();
            $before = $byKey[$key] ?? null;
            $byKey[$key] =
                $before === null
                    ? $line
                    : new Line(
                        $line->labels,
                        array_map(
                            static fn(?float $one, ?float $other): ?float => $one ?? $other,
                            $before->values,
                            $line->values,
                        ),
                    );
        }

        return array_values($byKey);
    }

    /** @param list<Line> $lines */
    private static function isAnyThere(array $lines, int $instant): bool
    {
        foreach ($lines as $line) {
            if ($line->values[$instant] !== null) {
                return true;
            }
        }

        return false;
    }

    /**
     * Who is paired with whom, of those that are there at the same instants.
     *
     * @param list<Line> $left
     * @param list<Line> $right
     *
     * @return list<array{LabelSet, Line|null, Line|null}> labels of the result, and the two
     *
     * @throws FormulaError
     */
    private function pairs(array $left, array $right): array
    {
        $shared = $this->on ?? array_values(array_intersect(self::names($left), self::names($right)));
        $lefts = self::byLabels($left, $shared);
        $rights = self::byLabels($right, $shared);
        $pairs = [];
        foreach ($lefts as $key => $ones) {
            $others = $rights[$key] ?? [];
            if (count($ones) > 1 && count($others) > 1) {
                throw new FormulaError(
                    $this->place,
                    sprintf(
                        'Both sides have several series for %s, such as {%s} and {%s}; reduce one side (sum … per …) or name the labels with on',
                        $key === '' ? 'no common label' : '{' . $key . '}',
                        $ones[0]->labels->key(),
                        $others[1]->labels->key(),
                    ),
                );
            }
            foreach ($ones as $one) {
                foreach ($others as $other) {
                    $pairs[] = [self::labelsOf($one, $other, count($ones) <=> count($others)), $one, $other];
                }
                if ($others === [] && $this->fills) {
                    $pairs[] = [$one->labels, $one, null];
                }
            }
        }
        foreach ($this->fills ? array_diff_key($rights, $lefts) : [] as $others) {
            foreach ($others as $other) {
                $pairs[] = [$other->labels, null, $other];
            }
        }

        return $pairs;
    }

    /** @param int $more whether there are more on the left (1) or on the right (-1); where neither, whichever says more of itself */
    private static function labelsOf(Line $one, Line $other, int $more): LabelSet
    {
        $isLeft = match ($more) {
            1 => true,
            -1 => false,
            default => count($one->labels->labels) >= count($other->labels->labels),
        };

        return $isLeft ? $one->labels : $other->labels;
    }

    /** @param array{LabelSet, Line|null, Line|null} $pair */
    private function line(array $pair, int $instants): Line
    {
        [$labels, $one, $other] = $pair;

        return $one !== null && $other !== null
            ? $this->combine($labels, $one, $other, $instants)
            : $one ?? ($other ?? new Line($labels, []));
    }

    private function combine(LabelSet $labels, Line $left, Line $right, int $instants): Line
    {
        // Local names: this loop passes over every value of two series.
        [$lefts, $rights, $combine] = [$left->values, $right->values, $this->combine];
        $values = [];
        for ($i = 0; $i < $instants; ++$i) {
            $a = $lefts[$i];
            $b = $rights[$i];
            $values[] = $a === null || $b === null ? null : $combine($a, $b);
        }

        return new Line($labels, $values);
    }

    private function value(?float $a, ?float $b): ?float
    {
        return match (true) {
            $this->fills => $a ?? $b,
            $a === null || $b === null => null,
            default => ($this->combine)($a, $b),
        };
    }

    /** @return list<Line> those with a value anywhere */
    private static function there(Lines $lines): array
    {
        return array_values(array_filter($lines->lines, static fn(Line $line): bool => !$line->isEmpty()));
    }

    /**
     * @param list<Line> $lines
     *
     * @return list<Line>
     */
    private static function presentAt(array $lines, int $instant): array
    {
        return array_values(array_filter($lines, static fn(Line $line): bool => $line->values[$instant] !== null));
    }

    /** @param list<Line> $lines */
    private static function differInNames(array $lines): bool
    {
        $first = $lines === [] ? [] : $lines[0]->labels->labels;
        foreach ($lines as $line) {
            if (count($line->labels->labels) !== count($first) || array_diff_key($line->labels->labels, $first) !== []) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param list<Line> $lines
     *
     * @return list<string>
     */
    private static function names(array $lines): array
    {
        $names = [];
        foreach ($lines as $line) {
            $names += $line->labels->labels;
        }

        return array_map(strval(...), array_keys($names));
    }

    /**
     * @param list<Line>   $lines
     * @param list<string> $names
     *
     * @return array<string, non-empty-list<Line>>
     */
    private static function byLabels(array $lines, array $names): array
    {
        $groups = [];
        foreach ($lines as $line) {
            $groups[$line->labels->only($names)->key()][] = $line;
        }

        return $groups;
    }
}

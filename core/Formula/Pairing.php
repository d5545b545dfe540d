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
        return new self($node->place, $node->on, $node->operator->apply(...), $node->operator === Operator::Default);
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
            $lines = $left->lines;
            if ($lines === [] && $this->fills) {
                return new Lines([new Line(LabelSet::none(), $right->lines[0]->values)]);
            }

            return new Lines(array_map(fn(Line $line): Line => $this->combine($line->labels, $line, $right->lines[0], $instants), $lines), $left->isNumber);
        }
        if ($left->isNumber) {
            return new Lines(array_map(fn(Line $line): Line => $this->combine($line->labels, $left->lines[0], $line, $instants), $right->lines));
        }
        $shared = $this->on ?? array_values(array_intersect(self::names($left), self::names($right)));
        $lefts = self::byLabels($left, $shared);
        $rights = self::byLabels($right, $shared);
        $lines = [];
        foreach ($lefts as $key => $ones) {
            $others = $rights[$key] ?? [];
            if (count($ones) > 1 && count($others) > 1) {
                throw new FormulaError($this->place, sprintf(
                    'Both sides have several series for %s, such as {%s} and {%s}; reduce one side (sum … per …) or name the labels with on',
                    $key === '' ? 'no common label' : '{' . $key . '}',
                    $ones[0]->labels->key(),
                    $others[1]->labels->key(),
                ));
            }
            foreach ($ones as $one) {
                foreach ($others as $other) {
                    $lines[] = $this->combine(count($ones) >= count($others) && count($one->labels->labels) >= count($other->labels->labels) ? $one->labels : $other->labels, $one, $other, $instants);
                }
                if ($others === [] && $this->fills) {
                    $lines[] = $one;
                }
            }
        }

        if ($this->fills) {
            foreach (array_diff_key($rights, $lefts) as $others) {
                array_push($lines, ...$others);
            }
        }

        return new Lines($lines);
    }

    private function combine(LabelSet $labels, Line $left, Line $right, int $instants): Line
    {
        $values = [];
        for ($i = 0; $i < $instants; ++$i) {
            $a = $left->values[$i];
            $b = $right->values[$i];
            $values[] = match (true) {
                $this->fills => $a ?? $b,
                $a === null || $b === null => null,
                default => ($this->combine)($a, $b),
            };
        }

        return new Line($labels, $values);
    }

    /** @return list<string> */
    private static function names(Lines $lines): array
    {
        $names = [];
        foreach ($lines->lines as $line) {
            $names += $line->labels->labels;
        }

        return array_map(strval(...), array_keys($names));
    }

    /**
     * @param list<string> $names
     *
     * @return array<string, non-empty-list<Line>>
     */
    private static function byLabels(Lines $lines, array $names): array
    {
        $groups = [];
        foreach ($lines->lines as $line) {
            $groups[$line->labels->only($names)->key()][] = $line;
        }

        return $groups;
    }
}

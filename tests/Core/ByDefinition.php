<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

/**
 * A formula together with what it means, worked out instant by instant from the definition alone: no windows that
 * slide, nothing shared between instants, no tree. Slow, and short enough to be seen to be right.
 *
 * A set of series at an instant is written labels → value: `host=a,site=n` → 4.5.
 *
 * @phpstan-type Set array<string, float>
 * @phpstan-type One array{metric: string, labels: array<string, string>, values: array<int, float|null>}
 */
final class ByDefinition
{
    private const DAY = 86_400;

    /** @param \Closure(int): Set $at what it yields at a second */
    private function __construct(public readonly string $text, public readonly \Closure $at)
    {
    }

    /**
     * @param list<One>                                  $series
     * @param \Closure(array<string, string>): bool|null $accepts
     */
    public static function select(string $metric, array $series, int $staleSeconds, string $where = '', ?\Closure $accepts = null): self
    {
        return new self($metric . $where, static function (int $at) use ($metric, $series, $staleSeconds, $accepts): array {
            $set = [];
            foreach (self::of($metric, $series, $accepts) as $key => $values) {
                $newest = self::newest($values, $at);
                if ($newest !== null && $newest >= $at - $staleSeconds && $values[$newest] !== null) {
                    $set[$key] = $values[$newest];
                }
            }

            return $set;
        });
    }

    /**
     * What is made of the readings in a window, of one series at a time.
     *
     * @param list<One>                                  $series
     * @param \Closure(array<string, string>): bool|null $accepts
     */
    public static function over(
        string $function,
        string $metric,
        array $series,
        int $staleSeconds,
        int $window,
        string $where = '',
        ?\Closure $accepts = null,
    ): self {
        $text = match ($function) {
            'quantile' => "quantile(0.8, {$metric}{$where}, {$window}s)",
            'forecast' => "forecast({$metric}{$where}, 30s, {$window}s)",
            'age' => "age({$metric}{$where})",
            default => "{$function}({$metric}{$where}, {$window}s)",
        };

        return new self($text, static function (int $at) use ($function, $metric, $series, $staleSeconds, $window, $accepts): array {
            $set = [];
            foreach (self::of($metric, $series, $accepts) as $key => $values) {
                $value = match ($function) {
                    'growth', 'rate' => self::growth($function, $values, $at, $window, $staleSeconds),
                    'age', 'missing' => self::quietFor($function, $values, $at, $window),
                    default => self::reduced($function, self::inside($values, $at, $window), $at),
                };
                if ($value !== null) {
                    $set[$key] = $value;
                }
            }

            return $set;
        });
    }

    /** A window over another formula, which is looked at every fifteen seconds. */
    public static function overFormula(string $function, self $of, int $window): self
    {
        return new self("{$function}({$of->text}, {$window}s)", static function (int $at) use ($function, $of, $window): array {
            $columns = [];
            for ($second = (intdiv($at - $window, 15) + 1) * 15; $second <= $at; $second += 15) {
                foreach (($of->at)($second) as $key => $value) {
                    if (!is_nan($value)) {
                        $columns[$key][$second] = $value;
                    }
                }
            }

            return array_filter(
                array_map(static fn(array $inside): ?float => self::reduced($function, $inside, $at), $columns),
                static fn(?float $value): bool => $value !== null,
            );
        });
    }

    /** What was usual: the formula looked at every fifteen seconds of an hour or less, up to the last of these. */
    public static function baseline(string $method, self $of, int $span): self
    {
        return new self("baseline({$of->text}, {$method}, {$span}s)", static function (int $at) use ($method, $of, $span): array {
            $set = [];
            foreach (self::past($of, $at, $span) as $key => $past) {
                [$above, $below] = [0.0, 0.0];
                foreach ($past as $second => $value) {
                    // Eight halvings a span.
                    $weight = 0.5 ** ((8 * (intdiv($at, 15) * 15 - $second)) / $span);
                    [$above, $below] = [$above + $weight * $value, $below + $weight];
                }
                $set[$key] = $method === 'ewma' ? $above / $below : (float) self::reduced($method, $past, $at);
            }

            return $set;
        });
    }

    public static function deviation(string $yardstick, self $of, int $span): self
    {
        return new self("deviation({$of->text}, {$yardstick}, {$span}s)", static function (int $at) use ($yardstick, $of, $span): array {
            $set = [];
            $past = self::past($of, $at, $span);
            foreach (($of->at)($at) as $key => $value) {
                if (isset($past[$key]) && !is_nan($value)) {
                    $middle = (float) self::reduced($yardstick === 'mad' ? 'median' : 'mean', $past[$key], $at);
                    $set[$key] = self::apart(
                        $middle,
                        $value,
                        ($yardstick === 'mad' ? 1.4826 : 1.0) * (float) self::reduced($yardstick, $past[$key], $at),
                    );
                }
            }

            return $set;
        });
    }

    public function ago(int $seconds): self
    {
        return new self("({$this->text} ago {$seconds}s)", fn(int $at): array => ($this->at)($at - $seconds));
    }

    /** @param list<string> $labels those kept, or those dropped */
    public function across(string $function, array $labels, bool $keeps): self
    {
        $named = $function === 'quantile' ? "quantile(0.8, {$this->text})" : "{$function}({$this->text})";

        return new self($named . self::grouping($labels, $keeps), function (int $at) use ($function, $labels, $keeps): array {
            $set = [];
            foreach (self::groups(($this->at)($at), $labels, $keeps) as $key => $members) {
                $set[$key] = (float) self::reduced($function, $members, $at);
            }

            return $set;
        });
    }

    /** @param list<string> $labels */
    public function ranked(bool $highest, int $count, array $labels): self
    {
        return new self(sprintf('%s(%d, %s)%s', $highest ? 'top' : 'bottom', $count, $this->text, self::grouping($labels, true)), function (
            int $at,
        ) use ($highest, $count, $labels): array {
            $set = [];
            foreach (self::groups(($this->at)($at), $labels, true) as $members) {
                foreach ($members as $key => $value) {
                    $before = array_filter(
                        $members,
                        static fn(float $other, string $name): bool => $other === $value ? strcmp($name, $key) < 0 : $other > $value === $highest,
                        ARRAY_FILTER_USE_BOTH,
                    );
                    if (count($before) < $count) {
                        $set[$key] = $value;
                    }
                }
            }

            return $set;
        });
    }

    /** @param list<string> $labels */
    public function outlier(array $labels): self
    {
        return new self("outlier({$this->text})" . self::grouping($labels, true), function (int $at) use ($labels): array {
            $set = [];
            foreach (self::groups(($this->at)($at), $labels, true) as $members) {
                foreach ($members as $key => $value) {
                    $set[$key] = abs(
                        self::apart((float) self::reduced('median', $members, $at), $value, 1.4826 * (float) self::reduced('mad', $members, $at)),
                    );
                }
            }

            return $set;
        });
    }

    /** @param \Closure(float): float $apply */
    public function each(string $before, string $after, \Closure $apply): self
    {
        return new self("{$before}{$this->text}{$after}", fn(int $at): array => array_map($apply, ($this->at)($at)));
    }

    /** Paired on the labels that both have; the result has those of the side that has more. */
    public function with(string $operator, self $other): self
    {
        return new self("(({$this->text}) {$operator} ({$other->text}))", function (int $at) use ($operator, $other): array {
            $set = [];
            foreach (($this->at)($at) as $one => $left) {
                foreach (($other->at)($at) as $two => $right) {
                    [$ones, $twos] = [self::labels($one), self::labels($two)];
                    $shared = array_intersect_key($ones, $twos);
                    if ($shared === array_intersect_key($twos, $ones)) {
                        $set[self::key($ones + $twos)] = self::combined($operator, $left, $right);
                    }
                }
            }

            return $set;
        });
    }

    public static function combined(string $operator, float $a, float $b): float
    {
        return match ($operator) {
            '+' => $a + $b,
            '-' => $a - $b,
            '*' => $a * $b,
            '/' => fdiv($a, $b),
            '>' => $a > $b ? 1.0 : 0.0,
            '<=' => $a <= $b ? 1.0 : 0.0,
            'and' => $a !== 0.0 && $b !== 0.0 && !is_nan($a) && !is_nan($b) ? 1.0 : 0.0,
            'or' => ($a !== 0.0 && !is_nan($a)) || ($b !== 0.0 && !is_nan($b)) ? 1.0 : 0.0,
            default => throw new \LogicException($operator),
        };
    }

    /** @param array<string, string> $labels */
    public static function key(array $labels): string
    {
        ksort($labels);

        return implode(',', array_map(static fn(string $name, string $value): string => "{$name}={$value}", array_keys($labels), $labels));
    }

    /** @return array<string, string> */
    private static function labels(string $key): array
    {
        $labels = [];
        foreach (array_filter(explode(',', $key)) as $label) {
            [$name, $value] = explode('=', $label);
            $labels[$name] = $value;
        }

        return $labels;
    }

    /**
     * @param list<One>                                  $series
     * @param \Closure(array<string, string>): bool|null $accepts
     *
     * @return array<string, array<int, float|null>>
     */
    private static function of(string $metric, array $series, ?\Closure $accepts): array
    {
        $found = [];
        foreach ($series as $one) {
            if ($one['metric'] === $metric && ($accepts === null || $accepts($one['labels']))) {
                $found[self::key($one['labels'])] = $one['values'];
            }
        }

        return $found;
    }

    /** @param array<int, float|null> $values */
    private static function newest(array $values, int $at): ?int
    {
        $before = array_filter(array_keys($values), static fn(int $second): bool => $second <= $at);

        return $before === [] ? null : max($before);
    }

    /**
     * @param array<int, float|null> $values
     *
     * @return array<int, float>
     */
    private static function inside(array $values, int $at, int $window): array
    {
        return array_filter(
            $values,
            static fn(?float $value, int $second): bool => $second > $at - $window && $second <= $at && $value !== null && !is_nan($value),
            ARRAY_FILTER_USE_BOTH,
        );
    }

    /** @param array<int, float|null> $values */
    private static function growth(string $function, array $values, int $at, int $window, int $staleSeconds): ?float
    {
        $readings = self::inside($values, $at, $window);
        if ($readings === []) {
            return null;
        }
        $edge = self::newest(array_filter($values, static fn(?float $value): bool => $value !== null && !is_nan($value)), $at - $window);
        if ($edge !== null && $edge >= $at - $window - $staleSeconds) {
            $readings[$edge] = (float) $values[$edge];
        }
        ksort($readings);
        $grown = 0.0;
        $last = null;
        foreach ($readings as $value) {
            $grown += $last === null ? 0.0 : ($value < $last ? $value : $value - $last);
            $last = $value;
        }
        $seconds = array_key_last($readings) - array_key_first($readings);

        return $function === 'growth' ? $grown : ($seconds === 0 ? null : $grown / $seconds);
    }

    /** @param array<int, float|null> $values */
    private static function quietFor(string $function, array $values, int $at, int $window): ?float
    {
        $newest = self::newest(array_filter($values, static fn(?float $value): bool => $value !== null), $at);
        if ($newest === null || $newest <= $at - self::DAY) {
            return null;
        }

        return $function === 'age' ? (float) ($at - $newest) : ($newest <= $at - $window ? 1.0 : 0.0);
    }

    /**
     * @param array<array-key, float> $inside by second, for those that ask when
     */
    private static function reduced(string $function, array $inside, int $at): ?float
    {
        $inside = array_filter($inside, static fn(float $value): bool => !is_nan($value));
        $count = count($inside);
        if ($count === 0) {
            return null;
        }
        $mean = array_sum($inside) / $count;
        $ranked = array_values($inside);
        sort($ranked);
        $rank = static function (float $share) use ($ranked, $count): float {
            [$low, $high] = [$ranked[(int) floor($share * ($count - 1))], $ranked[(int) ceil($share * ($count - 1))]];

            return $low === $high ? $low : $low + ($high - $low) * fmod($share * ($count - 1), 1);
        };
        ksort($inside);

        return match ($function) {
            'mean' => $mean,
            'sum' => (float) array_sum($inside),
            'min' => $ranked[0],
            'max' => $ranked[$count - 1],
            'count' => (float) $count,
            'range' => $ranked[$count - 1] - $ranked[0],
            'first' => $inside[array_key_first($inside)],
            'last' => $inside[array_key_last($inside)],
            'change' => $inside[array_key_last($inside)] - $inside[array_key_first($inside)],
            'median' => $rank(0.5),
            'quantile' => $rank(0.8),
            'stddev' => sqrt(max(0.0, array_sum(array_map(static fn(float $value): float => ($value - $mean) * ($value - $mean), $inside)) / $count)),
            'mad' => self::reduced(
                'median',
                array_map(static fn(float $value): float => $value === $rank(0.5) ? 0.0 : abs($value - $rank(0.5)), $inside),
                $at,
            ),
            'slope', 'forecast' => self::line($function, $inside, $at),
            default => throw new \LogicException($function),
        };
    }

    /**
     * The line by the normal equations: n·Σty − Σt·Σy over n·Σt² − (Σt)².
     *
     * @param array<array-key, float> $inside
     */
    private static function line(string $function, array $inside, int $at): ?float
    {
        $n = count($inside);
        if ($n < 2) {
            return null;
        }
        [$t, $y, $ty, $tt] = [0.0, 0.0, 0.0, 0.0];
        foreach ($inside as $second => $value) {
            $since = (int) $second - $at;
            [$t, $y, $ty, $tt] = [$t + $since, $y + $value, $ty + $since * $value, $tt + $since * $since];
        }
        $slope = ($n * $ty - $t * $y) / ($n * $tt - $t * $t);

        return $function === 'slope' ? $slope : ($y - $slope * $t) / $n + 30 * $slope;
    }

    /** @return array<string, array<int, float>> */
    private static function past(self $of, int $at, int $span): array
    {
        $past = [];
        $last = intdiv($at, 15) * 15;
        for ($second = intdiv($last - $span, 15) * 15 + 15; $second <= $last; $second += 15) {
            foreach (($of->at)($second) as $key => $value) {
                if (!is_nan($value)) {
                    $past[$key][$second] = $value;
                }
            }
        }

        return $past;
    }

    private static function apart(float $from, float $to, float $yardstick): float
    {
        return $from === $to ? 0.0 : ($yardstick > 0.0 ? ($to - $from) / $yardstick : ($to > $from ? INF : -INF));
    }

    /** @param list<string> $labels */
    private static function grouping(array $labels, bool $keeps): string
    {
        return $labels === [] ? '' : ($keeps ? ' per ' : ' dropping ') . implode(', ', $labels);
    }

    /**
     * @param Set          $set
     * @param list<string> $labels
     *
     * @return array<string, array<string, float>>
     */
    private static function groups(array $set, array $labels, bool $keeps): array
    {
        $groups = [];
        foreach ($set as $key => $value) {
            if (!is_nan($value)) {
                $kept = $keeps
                    ? array_intersect_key(self::labels($key), array_flip($labels))
                    : array_diff_key(self::labels($key), array_flip($labels));
                $groups[$labels === [] ? '' : self::key($kept)][$key] = $value;
            }
        }

        return $groups;
    }
}

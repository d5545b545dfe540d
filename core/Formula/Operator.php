<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** Between two values. Binding strength rises from `default` and `or` to `^`. */
enum Operator: string
{
    case Default = 'default';
    case Or = 'or';
    case And = 'and';
    case Equals = '=';
    case Differs = '!=';
    case Below = '<';
    case AtMost = '<=';
    case Above = '>';
    case AtLeast = '>=';
    case Plus = '+';
    case Minus = '-';
    case Times = '*';
    case Over = '/';
    case Modulo = '%';
    case Power = '^';

    public function strength(): int
    {
        return match ($this) {
            self::Default => 1,
            self::Or => 2,
            self::And => 3,
            self::Equals, self::Differs, self::Below, self::AtMost, self::Above, self::AtLeast => 4,
            self::Plus, self::Minus => 5,
            self::Times, self::Over, self::Modulo => 6,
            self::Power => 8,
        };
    }

    public function needsSameUnit(): bool
    {
        return $this->strength() === 4 || $this->strength() === 5;
    }

    /** IEEE 754 throughout; a comparison with NaN is false, `!=` too. */
    public function apply(float $a, float $b): float
    {
        return match ($this) {
            self::Default => $a,
            self::Or => self::truth(self::holds($a) || self::holds($b)),
            self::And => self::truth(self::holds($a) && self::holds($b)),
            self::Equals => self::truth($a === $b),
            self::Differs => self::truth($a < $b || $a > $b),
            self::Below => self::truth($a < $b),
            self::AtMost => self::truth($a <= $b),
            self::Above => self::truth($a > $b),
            self::AtLeast => self::truth($a >= $b),
            self::Plus => $a + $b,
            self::Minus => $a - $b,
            self::Times => $a * $b,
            self::Over => fdiv($a, $b),
            self::Modulo => fmod($a, $b),
            self::Power => $a ** $b,
        };
    }

    /**
     * The same for whoever does it a million times: which one it is is not asked each time.
     *
     * @return \Closure(float, float): float
     */
    public function function(): \Closure
    {
        return match ($this) {
            self::Plus => static fn(float $a, float $b): float => $a + $b,
            self::Minus => static fn(float $a, float $b): float => $a - $b,
            self::Times => static fn(float $a, float $b): float => $a * $b,
            self::Over => fdiv(...),
            default => $this->apply(...),
        };
    }

    public static function holds(float $value): bool
    {
        return $value < 0 || $value > 0;
    }

    private static function truth(bool $holds): float
    {
        return $holds ? 1.0 : 0.0;
    }
}

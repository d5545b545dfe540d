<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

/** One series: its labels and its value at any second. */
final readonly class Signal
{
    /**
     * @param array<string, string>        $labels
     * @param \Closure(int, Breaks): float $value
     */
    public function __construct(public string $suffix, public array $labels, public \Closure $value)
    {
    }
}

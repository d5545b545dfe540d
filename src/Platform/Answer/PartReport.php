<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Answer;

use Olivine\App\Platform\Scalar;

final readonly class PartReport
{
    /**
     * @param int    $ageMs   of what the longest silent of its copies said last
     * @param object $figures name → number
     */
    public function __construct(public string $name, public int $ageMs, public object $figures)
    {
    }

    /** Of two copies that share the work: together they did both, and they are as late as the later one. */
    public function with(self $other): self
    {
        $figures = array_map(Scalar::float(...), get_object_vars($this->figures));
        foreach (array_map(Scalar::float(...), get_object_vars($other->figures)) as $name => $value) {
            $figures[$name] = match (true) {
                !isset($figures[$name]) => $value,
                str_ends_with($name, '_seconds') => max($figures[$name], $value),
                default => $figures[$name] + $value,
            };
        }

        return new self($this->name, max($this->ageMs, $other->ageMs), (object) $figures);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** What one label set is judged by over some instants: a column of values for each input of the condition. */
final class Track
{
    private ?Extremes $extremes = null;

    /** @param non-empty-list<list<float|null>> $columns a value an instant */
    public function __construct(public readonly array $columns)
    {
    }

    /** One value at each of so many instants. */
    public static function of(float $value, int $count): self
    {
        $track = new self([array_fill(0, $count, $value)]);
        $track->extremes = Extremes::ofOne($value, $count);

        return $track;
    }

    /** Of what is watched; worked out once, however many rules look at it. */
    public function extremes(): Extremes
    {
        return $this->extremes ??= Extremes::of($this->columns[0]);
    }
}
